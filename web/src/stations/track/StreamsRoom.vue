<script setup lang="ts">
import { computed } from 'vue'

import { useStreams, type StreamTopic } from '@/api/apart'
import type { EvidenceRequest } from '@/api/evidence'
import { useEvidence } from '@/frame/evidence'
import ChartFrame from '@/marks/ChartFrame.vue'
import { count, percent } from '@/marks/format'

import PartingBar from './PartingBar.vue'
import PartsToFit from './PartsToFit.vue'
import StreamsChart from './StreamsChart.vue'
import { useParting } from './parting'

/** Topics through periods, of the one fit or of a model for each: born, grown, split, merged, ended. */
const { choices, query: asked, get, set, of, span } = useParting(true)
const { select } = useEvidence()
const whole = computed(() => get('models') !== 'each')
const query = useStreams(() => (of.value ? { ...of.value, whole: whole.value } : undefined))
const found = computed(() => query.data.value)
const chosen = computed(() => {
  const [period, own] = get('s').split('.').map(Number)
  return found.value?.topics.find((each) => each.period === period && each.own === own)
})
const period = computed(() => (chosen.value ? found.value?.periods[chosen.value.period] : undefined))
const happens = computed(() =>
  (found.value?.happenings ?? []).filter(
    (each) => each.period === chosen.value?.period && each.own === chosen.value?.own,
  ),
)
function evidence(topic: StreamTopic): EvidenceRequest {
  const there = found.value!.periods[topic.period]
  return whole.value ? { topic: topic.own, at: there.name } : { part_fit: there.identity, own: topic.own }
}
function pick(topic: StreamTopic) {
  set({ s: `${topic.period}.${topic.own}` })
  select(evidence(topic))
}
function pickAt(at: number, own: number) {
  const topic = found.value?.topics.find((each) => each.period === at && each.own === own)
  if (topic) pick(topic)
}
const HEADER = ['from', 'topic', 'to', 'its topic', 'of the one', 'of the other', 'held by seeds', 'times its share']
const name = (at: number, own: number) =>
  found.value?.topics.find((each) => each.period === at && each.own === own)?.title ?? ''
const rows = computed(() =>
  (found.value?.threads ?? []).map((each) => [
    ...[found.value!.periods[each.period].said, name(each.period, each.before)],
    ...[found.value!.periods[each.period + 1].said, name(each.period + 1, each.after)],
    ...[each.of_before, each.of_after, each.held, each.times],
  ]),
)
</script>

<template>
  <p v-if="asked.error.value" class="notice bad">{{ asked.error.value.message }}</p>
  <h1>Streams of topics{{ span ? ` through each ${span}` : '' }}</h1>
  <PartingBar timed :settled="whole" :smallest="found?.smallest" :topics="found?.topics_each">
    <span role="group" aria-label="Topics of">
      <button class="plain mode" :aria-pressed="whole" @click="set({ models: '', s: '' })">the one fit</button>
      <button class="plain mode" :aria-pressed="!whole" @click="set({ models: 'each', s: '' })">
        a model for each {{ span ?? 'period' }}
      </button>
    </span>
  </PartingBar>
  <p v-if="query.error.value" class="notice bad">{{ query.error.value.message }}</p>
  <p v-else-if="choices && !of" class="notice">
    {{
      choices.dated
        ? 'Choose a period.'
        : 'No document has a date, so nothing runs through time. Give a field the role date at Gather.'
    }}
  </p>
  <template v-else-if="found?.made">
    <p class="outcome">{{ found.says }}</p>
    <ChartFrame title="" name="streams" :header="HEADER" :rows="rows">
      <StreamsChart
        :found="found"
        :selected="chosen"
        :class="{ waiting: query.isPlaceholderData.value }"
        @pick="pick" />
    </ChartFrame>
    <div class="below small">
      <section v-if="found.happenings.length">
        <h2>What happens</h2>
        <ul>
          <li v-for="each in found.happenings" :key="each.says">
            <button class="plain" @click="pickAt(each.period, each.own)">{{ each.says }}</button>
          </li>
        </ul>
      </section>
      <section v-if="chosen && period" aria-live="polite">
        <h2>{{ chosen.title }} in {{ period.said }}</h2>
        <p class="book">{{ chosen.words.join(', ') }}</p>
        <p class="numbers">
          {{ count(Math.round(chosen.tokens)) }} of {{ count(Math.round(period.tokens)) }} words,
          {{ percent(chosen.share) }}
        </p>
        <p v-for="each in happens" :key="each.says">{{ each.says }}</p>
      </section>
    </div>
    <p class="soft small">{{ found.rests }}</p>
  </template>
  <PartsToFit
    v-else
    :of="of"
    :parts="found?.n_periods"
    :rests="found?.rests"
    :waiting="query.isPlaceholderData.value" />
</template>

<style scoped>
.outcome {
  font-family: var(--heading);
  font-size: 1.1rem;
  margin: 0;
}
.below {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(20rem, 1fr));
  gap: 0.6rem 1.6rem;
}
h2,
p {
  margin: 0;
}
ul {
  margin: 0;
  padding: 0;
  list-style: none;
  max-height: 11rem;
  overflow-y: auto;
}
li button {
  text-align: left;
  min-height: 24px;
}
.waiting {
  opacity: 0.6;
}
</style>
