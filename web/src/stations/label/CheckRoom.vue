<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref, watch } from 'vue'

import { useStrandId } from '@/api/strand'
import { useChecks, useTopics } from '@/api/topics'
import FileLink from '@/frame/FileLink.vue'
import Waiting from '@/frame/Waiting.vue'
import { useEvidence } from '@/frame/evidence'
import Swatch from '@/marks/Swatch.vue'
import { counted, decimal, percent } from '@/marks/format'

import AnswerSheet from './AnswerSheet.vue'
import CheckBegin from './CheckBegin.vue'
import CodingResult from './CodingResult.vue'
import { useAnswersFile, useForgetCheck, type Check } from './checks'

/** Whether people can tell topics apart: intruders, blind coding, several raters, each topic beside its coherence. */
const id = useStrandId()
const { label, dye } = useTopics()
const { select } = useEvidence()
const query = useChecks()
const found = computed(() => query.data.value)
const rater = ref(localStorage.getItem('skeinwork-rater') ?? '')
watch(rater, (name) => localStorage.setItem('skeinwork-rater', name))
const open = ref<number>()
const asked = ref<number>()
const answering = computed(() => found.value?.checks.find((each) => each.id === open.value))
const forget = useForgetCheck()
const file = useAnswersFile()
async function take(check: Check, given: File) {
  file.mutate({ check: check.id, text: await given.text() })
}
const page = (check: Check) => `/api/strands/${id.value}/checks/${check.id}/page.html`
function remove(check: Check) {
  if (asked.value === check.id || !check.raters.length) forget.mutate(check.id)
  asked.value = check.id
}
const range = (each: { mean: number; low: number | null; high: number | null } | null) =>
  each ? `${percent(each.mean, 0)}, ${percent(each.low ?? 0, 0)} to ${percent(each.high ?? 1, 0)}` : ''
</script>

<template>
  <div class="checks">
    <div class="row wrap spread">
      <h1>Can people tell these topics apart?</h1>
      <label class="small">your name <input v-model="rater" maxlength="100" aria-label="Your name" /></label>
    </div>
    <Waiting v-if="!found && !query.error.value" what="Looking for checks" />
    <p v-if="query.error.value" class="notice bad">{{ query.error.value.message }}</p>
    <template v-if="found">
      <CheckBegin :kinds="found.kinds" />
      <dl v-if="!found.checks.length" class="kinds">
        <template v-for="kind in found.kinds" :key="kind.name">
          <dt>{{ kind.title }}</dt>
          <dd>tells {{ kind.about }}.</dd>
        </template>
        <dt>How it goes</dt>
        <dd>
          Draw the questions, then answer them here by the number keys, or save them as a page that opens in any browser
          and send it to others; bring back the file of answers that each of them saves. Nobody sees shares, intruders
          or labels while answering.
        </dd>
      </dl>
      <article v-for="check in found.checks" :key="check.id" class="check">
        <div class="row wrap spread">
          <h2>
            {{ check.title }}<template v-if="check.concept">: {{ check.concept }}</template>
            <small class="soft">{{ counted(check.questions, check.concept ? 'document' : 'question') }}</small>
          </h2>
          <span class="row wrap small">
            <Button
              size="small"
              :label="rater.trim() ? 'Answer here' : 'Say your name, then answer here'"
              :disabled="!rater.trim()"
              @click="open = check.id" />
            <a :href="page(check)" download>save as a page for others</a>
            <FileLink accept=".json" :name="`Answers to ${check.title}`" @chosen="(given) => take(check, given)"
              >bring answers back</FileLink
            >
            <button class="plain link loss" @click="remove(check)">
              {{ asked === check.id && check.raters.length ? 'remove with all answers' : 'remove' }}
            </button>
          </span>
        </div>
        <p class="small">
          <template v-if="check.raters.length"
            ><span v-for="each in check.raters" :key="each.rater" class="rater"
              >{{ each.rater }} <span class="soft">{{ each.answered }} of {{ check.questions }}</span></span
            ></template
          ><span v-else class="soft">Nobody has answered yet.</span>
        </p>
        <template v-if="check.raters.length">
          <p v-for="said in check.result.says" :key="said">{{ said }}</p>
          <CodingResult v-if="check.result.strata.length" :check="check" />
        </template>
      </article>
      <section v-if="found.topics.length" aria-label="Topics by people and by coherence">
        <h2>Topic by topic</h2>
        <p>{{ found.says }}</p>
        <table class="ledger">
          <thead class="small soft">
            <tr>
              <th>topic</th>
              <th class="numbers">coherence</th>
              <th>intruding words found</th>
              <th>intruding topics found</th>
              <th></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="each in found.topics" :key="each.topic">
              <td>
                <button class="plain row" @click="select({ topic: each.topic })">
                  <Swatch :dye="dye(each.topic)" />{{ label(each.topic) }}
                </button>
              </td>
              <td class="numbers">{{ decimal(each.coherence) }}</td>
              <td v-for="part in [each.words, each.documents]" :key="part === each.words ? 'words' : 'topics'">
                <template v-if="part"
                  >{{ part.right }} of {{ part.answers }}
                  <small class="soft">{{ range(part.found) }}; chance {{ percent(part.chance, 0) }}</small></template
                ><span v-else class="soft">not asked</span>
              </td>
              <td>
                <b v-if="each.fails.length > 1" class="loss">fails both</b>
                <span v-else-if="each.fails.length" class="loss">fails one</span>
              </td>
            </tr>
          </tbody>
        </table>
        <p class="small"><a :href="`/api/strands/${id}/checks.csv`" download>All answers as CSV</a></p>
      </section>
    </template>
    <AnswerSheet
      v-if="answering"
      :key="answering.id"
      :check="answering"
      :rater="rater.trim()"
      @close="open = undefined" />
  </div>
</template>

<style scoped>
.checks {
  display: grid;
  gap: 0.7rem;
  align-content: start;
}
.kinds {
  display: grid;
  grid-template-columns: max-content minmax(0, 1fr);
  gap: 0.5rem 1.4rem;
  max-width: 52rem;
  margin: 0.6rem 0;
}
.kinds dt {
  font-weight: 700;
}
.kinds dd {
  margin: 0;
}
.check {
  border-top: 1px solid var(--soft);
  padding-top: 0.5rem;
}
.check h2 small {
  margin-left: 0.5rem;
  font-weight: 400;
}
.check p {
  margin: 0.15rem 0;
}
.checks a {
  display: inline-block;
  min-height: 24px;
}
.rater {
  margin-right: 1.2rem;
}
td .row {
  gap: 0.5rem;
  flex-wrap: nowrap;
}
td small {
  margin-left: 0.4rem;
}
</style>
