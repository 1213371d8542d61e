<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref } from 'vue'

import { ask, client, type Problem, type Schemas } from '@/api/client'
import { strandPath, useStrand } from '@/api/strand'
import FileLink from '@/frame/FileLink.vue'
import Waiting from '@/frame/Waiting.vue'
import { useEvidence } from '@/frame/evidence'
import { sendFile } from '@/frame/uploads'
import { count, counted } from '@/marks/format'

import { five } from './numbers'
import { useWeighting } from './weighting'

/** Text that is not in the corpus, as the matrix that was made sees it. */
const { id, ply } = useStrand()
const { read, select } = useEvidence()
const { weighting } = useWeighting()
const text = ref('')
const found = ref<Schemas['WeighedTexts']>()
const busy = ref(false)
const fault = ref('')
const at = ref(0)
async function answer(request: () => Promise<Schemas['WeighedTexts']>) {
  busy.value = true
  fault.value = ''
  at.value = 0
  await request()
    .then((given) => (found.value = given))
    .catch((problem: Problem) => (fault.value = problem.message))
  busy.value = false
}
const weigh = () =>
  answer(() =>
    ask(client.POST('/api/strands/{strand_id}/new-text', { params: strandPath(id.value), body: { text: text.value } })),
  )
function bring(file: File) {
  return answer(async () => {
    const path = { strand_id: id.value, sha256: (await sendFile(file)).sha256 }
    return ask(client.GET('/api/strands/{strand_id}/new-text/{sha256}', { params: { path } }))
  })
}
const one = computed(() => found.value?.texts[at.value])
const WHYS = ['not in the corpus', 'pruned', 'left out by Clean']
const unknown = computed(() =>
  WHYS.map((why) => [why, one.value?.unknown.filter((each) => each.why === why) ?? []] as const).filter(
    ([, words]) => words.length,
  ),
)
const SHOWN = 30
</script>

<template>
  <div class="new">
    <p v-if="!ply('matrix')?.identity" class="soft">There is no matrix yet. Rebuild first.</p>
    <template v-else>
      <label class="text">
        <span>A text that is not in the corpus</span>
        <textarea v-model="text" rows="4" placeholder="Type or paste a text" maxlength="200000" />
      </label>
      <div class="row wrap">
        <Button label="Weigh it" size="small" :disabled="!text.trim() || busy" @click="weigh" />
        <FileLink class="small" accept="" name="Bring a file of new texts" @chosen="bring">or bring a file</FileLink>
        <span class="soft small">It is cleaned as the corpus was, and nothing is learnt from it.</span>
      </div>
      <p v-if="fault" class="notice bad">{{ fault }}</p>
      <Waiting v-if="busy" what="Cleaning and weighing" />
      <template v-if="found && one && !busy">
        <div class="row wrap small">
          <label v-if="found.texts.length > 1"
            >text
            <select v-model.number="at" aria-label="Which text">
              <option v-for="(each, number) in found.texts" :key="number" :value="number">{{ each.name }}</option>
            </select></label
          >
          <span v-if="found.total > found.texts.length" class="soft"
            >the first {{ found.texts.length }} of {{ count(found.total) }}</span
          >
          <span
            ><b class="numbers">{{ count(one.counted) }}</b> of {{ counted(one.words, 'word') }} counted,
            {{ counted(one.terms.length, 'term') }}; {{ found.weighting }} learnt from
            {{ counted(found.learnt_from, 'document') }} <span class="book soft">{{ found.formula }}</span></span
          >
        </div>
        <div class="three">
          <section aria-label="Its vector">
            <h3>Its vector</h3>
            <table v-if="one.terms.length" class="ledger small">
              <thead class="soft">
                <tr>
                  <th>term</th>
                  <th class="numbers">n</th>
                  <th class="numbers">global</th>
                  <th class="numbers">weight</th>
                </tr>
              </thead>
              <tbody>
                <tr v-for="each in one.terms.slice(0, SHOWN)" :key="each.term">
                  <td class="book">
                    <button class="plain" @click="select({ term: each.term })">{{ each.display }}</button>
                  </td>
                  <td class="numbers">{{ count(each.n) }}</td>
                  <td class="numbers">{{ five(each.global_weight) }}</td>
                  <td class="numbers">{{ five(each.weight) }}</td>
                </tr>
              </tbody>
            </table>
            <p v-else class="soft small">None of its words is a term of this matrix.</p>
            <p v-if="one.terms.length > SHOWN" class="soft small">and {{ one.terms.length - SHOWN }} that weigh less</p>
          </section>
          <section aria-label="Words without a column">
            <h3>Words without a column</h3>
            <template v-for="[why, words] in unknown" :key="why">
              <p class="soft small">{{ why }}</p>
              <p class="book words">
                <span v-for="each in words.slice(0, 60)" :key="each.word"
                  >{{ each.word }}{{ each.n > 1 ? ` ${each.n}×` : '' }}</span
                >
              </p>
            </template>
            <p v-if="!unknown.length" class="soft small">every word has one</p>
          </section>
          <section aria-label="Nearest documents">
            <h3>Nearest documents <span class="soft small">cosine of the weights</span></h3>
            <ol>
              <li v-for="each in one.nearest" :key="each.document">
                <b class="numbers">{{ five(each.cosine) }}</b>
                <button class="plain link" @click="read(each.document)">{{ each.name }}</button>
                <span class="soft small">{{ each.brief }}</span>
                <span class="book soft small">{{ each.shared.join(', ') }}</span>
              </li>
            </ol>
            <p v-if="!one.nearest.length" class="soft small">
              {{
                weighting.global_weight === 'none'
                  ? 'No document shares a term.'
                  : 'No document shares a term that weighs anything.'
              }}
            </p>
          </section>
        </div>
      </template>
    </template>
  </div>
</template>

<style scoped>
.new {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 0.7rem;
}
.text {
  display: grid;
  gap: 0.2rem;
}
textarea {
  font-family: var(--book);
  width: 100%;
  resize: vertical;
}
.three {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(15rem, 1fr));
  gap: 1.6rem;
}
.words {
  display: flex;
  flex-wrap: wrap;
  gap: 0.1rem 0.8rem;
}
.three p {
  margin: 0.1rem 0 0.3rem;
}
ol {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 4rem minmax(0, 1fr);
  gap: 0 0.5rem;
  padding: 0.25rem 0;
  border-top: 1px solid var(--hairline);
}
li > .soft {
  grid-column: 2;
}
</style>
