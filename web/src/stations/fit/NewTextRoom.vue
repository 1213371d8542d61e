<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref } from 'vue'

import { ask, client, type Problem, type Schemas } from '@/api/client'
import { strandPath, useStrand } from '@/api/strand'
import { useTopics } from '@/api/topics'
import FileLink from '@/frame/FileLink.vue'
import Waiting from '@/frame/Waiting.vue'
import { useEvidence } from '@/frame/evidence'
import { sendFile } from '@/frame/uploads'
import PassageText from '@/marks/PassageText.vue'
import Swatch from '@/marks/Swatch.vue'
import { colour } from '@/marks/dyes'
import { count, counted, decimal, percent } from '@/marks/format'

/** Text that the fit has not seen, placed among its topics. */
const { id, ply, made } = useStrand()
const { label, dye, dyes } = useTopics()
const { select, read } = useEvidence()
const text = ref('')
const found = ref<Schemas['PlacedTexts']>()
const busy = ref(false)
const fault = ref('')
const at = ref(0)
/** The first of the documents held out that are shown; -1 where others are. */
const heldFrom = ref(-1)
const held = computed(() => made.value.matrix?.held_out ?? 0)
async function answer(request: () => Promise<Schemas['PlacedTexts']>, from = -1) {
  busy.value = true
  fault.value = ''
  at.value = 0
  await request()
    .then((given) => {
      found.value = given
      heldFrom.value = from
    })
    .catch((problem: Problem) => (fault.value = problem.message))
  busy.value = false
}
const place = () =>
  answer(() =>
    ask(client.POST('/api/strands/{strand_id}/placed', { params: strandPath(id.value), body: { text: text.value } })),
  )
const bring = (file: File) =>
  answer(async () => {
    const { sha256 } = await sendFile(file)
    const path = { strand_id: id.value, sha256 }
    return ask(client.GET('/api/strands/{strand_id}/placed/files/{sha256}', { params: { path } }))
  })
const heldOut = (offset: number) =>
  answer(
    () =>
      ask(
        client.GET('/api/strands/{strand_id}/placed/held-out', {
          params: { ...strandPath(id.value), query: { offset } },
        }),
      ),
    offset,
  )
const one = computed(() => found.value?.texts[at.value])
const LEAST = 0.02
const strong = computed(() => one.value?.topics.filter((each) => each.share >= LEAST) ?? [])
const weak = computed(() => one.value?.topics.filter((each) => each.share < LEAST) ?? [])
const highest = computed(() => {
  const ends = weak.value.flatMap((each) => each.high ?? [])
  return ends.length ? Math.max(...ends) : undefined
})
const missing = computed(() => one.value?.unknown.filter((each) => each.why !== 'left out by Clean') ?? [])
</script>

<template>
  <p v-if="!ply('fit')?.identity" class="soft">There is no fit yet. Make one first.</p>
  <div v-else class="new">
    <label class="text">
      <span>A text that the fit has not seen</span>
      <textarea v-model="text" rows="4" placeholder="Type or paste a text" maxlength="200000" />
    </label>
    <div class="row wrap">
      <Button label="Place it" size="small" :disabled="!text.trim() || busy" @click="place" />
      <FileLink class="small" accept="" name="Bring a file of new texts" @chosen="bring">or bring a file</FileLink>
      <button v-if="held" class="plain link small" :disabled="busy" @click="heldOut(0)">
        or the {{ counted(held, 'document') }} held out
      </button>
      <span class="soft small">It is cleaned as the corpus was; the topics stay as they are.</span>
    </div>
    <p v-if="fault" class="notice bad">{{ fault }}</p>
    <Waiting v-if="busy" what="Cleaning and placing" />
    <template v-if="found && one && !busy">
      <div class="row wrap small">
        <label v-if="found.texts.length > 1"
          >text
          <select v-model.number="at" aria-label="Which text">
            <option v-for="(each, number) in found.texts" :key="number" :value="number">{{ each.name }}</option>
          </select></label
        >
        <span v-if="found.total > found.texts.length" class="soft"
          >{{ heldFrom > 0 ? `from ${count(heldFrom + 1)}` : `the first ${found.texts.length}` }} of
          {{ count(found.total) }}</span
        >
        <button
          v-if="heldFrom >= 0 && heldFrom + found.texts.length < found.total"
          class="plain link"
          @click="heldOut(heldFrom + found.texts.length)">
          next
        </button>
        <button v-if="one.document !== null" class="plain link" @click="read(one.document)">{{ one.name }}</button>
        <span
          ><b class="numbers">{{ count(one.counted) }}</b> of {{ counted(one.words, 'word') }} counted<template
            v-if="one.unknown_share !== null"
            >; {{ percent(one.unknown_share) }} of those that cleaning leaves are no terms of the fit</template
          ></span
        >
      </div>
      <p v-if="!one.counted" class="notice">
        None of its words is a term of this fit, so nothing is known of its topics: the shares are those of the prior.
      </p>
      <div class="answer">
        <section aria-label="Its topics">
          <h2>
            Its topics
            <small class="soft"
              >share{{ one.topics[0]?.low === null ? '' : ' with 95 % interval' }}; the words that decided</small
            >
          </h2>
          <div v-for="each in strong" :key="each.topic" class="placed">
            <button class="plain row" @click="select({ topic: each.topic })">
              <Swatch :dye="dye(each.topic)" />
              <b class="grow cut">{{ label(each.topic) }}</b>
              <span class="numbers">{{ percent(each.share) }}</span>
              <small v-if="each.low !== null && each.high !== null" class="soft numbers"
                >{{ percent(each.low) }} to {{ percent(each.high) }}</small
              >
            </button>
            <div class="bar" aria-hidden="true">
              <i :style="{ width: `${100 * each.share}%`, background: colour(dye(each.topic)) }" />
              <i
                v-if="each.low !== null && each.high !== null"
                class="whisker"
                :style="{ left: `${100 * each.low}%`, width: `${100 * (each.high - each.low)}%` }" />
            </div>
            <p class="book words">
              <button
                v-for="word in each.words"
                :key="word.term"
                class="plain"
                :title="`${decimal(word.tokens, 1)} of ${word.n} in this topic; ${percent(word.probability, 2)} of the topic`"
                @click="select({ term: word.term })">
                {{ word.display }}<small class="soft numbers"> {{ decimal(word.tokens, 1) }}</small>
              </button>
              <span v-if="!each.words.length" class="soft small">no word of it is most likely this topic’s</span>
            </p>
          </div>
          <p v-if="weak.length" class="soft small">
            {{ counted(weak.length, 'other topic') }} with under {{ percent(LEAST, 0) }} each{{
              highest === undefined ? '' : `; the highest of their intervals ends at ${percent(highest)}`
            }}.
          </p>
        </section>
        <section aria-label="The text">
          <h2>The text <small class="soft">each word in the topic that has most of it</small></h2>
          <p class="paper"><PassageText :pieces="one.pieces" :dyes="dyes" /></p>
          <template v-if="missing.length">
            <h3>Words that the fit does not know</h3>
            <p class="book words">
              <span v-for="each in missing.slice(0, 40)" :key="each.word"
                >{{ each.word }}{{ each.n > 1 ? ` ${each.n}×` : '' }} <small class="soft">{{ each.why }}</small></span
              >
            </p>
          </template>
        </section>
      </div>
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
.answer {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(20rem, 1fr));
  gap: 1.6rem;
}
.placed {
  padding: 0.35rem 0;
  border-top: 1px solid var(--hairline);
}
.placed .row {
  width: 100%;
  min-height: 26px;
}
.bar {
  position: relative;
  height: 7px;
}
.bar i {
  position: absolute;
  top: 0;
  height: 5px;
}
.bar .whisker {
  top: 2px;
  height: 1.5px;
  background: var(--ink);
}
.words {
  display: flex;
  flex-wrap: wrap;
  gap: 0.1rem 0.9rem;
  margin: 0.2rem 0;
}
.words button {
  min-height: 24px;
}
.words small {
  margin-left: 0.25rem;
}
.paper {
  padding: 0.7rem 0.9rem;
  background: var(--raised);
  border: 1px solid var(--hairline);
  margin: 0.3rem 0;
}
</style>
