<script setup lang="ts">
import { computed } from 'vue'

import { useOwnWords } from '@/api/prevalence'
import { useTopics } from '@/api/topics'
import Waiting from '@/frame/Waiting.vue'
import ChartFrame from '@/marks/ChartFrame.vue'

import BreakdownBar from './BreakdownBar.vue'
import OwnWordsOf from './OwnWordsOf.vue'
import { useBreakdown } from './breakdown'

/** A topic's own words: what it is said with in each group, or at each time. */
const { by, choices, query: asked, group, timed, span, get, set } = useBreakdown()
const { topics, label } = useTopics()
const topic = computed(() => (topics.value[Number(get('t', '0'))] ? Number(get('t', '0')) : 0))
const halves = computed(() => get('as') === 'halves')
const parted = computed(() => halves.value || !!group.value || timed.value)
const query = useOwnWords(
  () => ({
    ...(halves.value ? { weight: by.value.weight, unit: by.value.unit } : by.value),
    topic: topic.value,
    halves: halves.value || undefined,
  }),
  () => !!choices.value && parted.value,
)
const found = computed(() => query.data.value)
const title = computed(() =>
  halves.value ? 'later against earlier' : group.value ? `by ${group.value}` : span.value ? `each ${span.value}` : '',
)
const HEADER = ['part', 'word', 'times as frequent', 'low 95 %', 'high 95 %', 'p', 'p adjusted', 'here', 'elsewhere']
const rows = computed(() =>
  (found.value?.groups ?? []).flatMap((part) =>
    [...part.more, ...part.less].map((each) => [
      ...[part.said, each.display, each.times, each.low, each.high, each.p, each.adjusted],
      ...[each.inside, each.outside],
    ]),
  ),
)
const value = (event: Event) => (event.target as HTMLSelectElement).value
</script>

<template>
  <p v-if="asked.error.value" class="notice bad">{{ asked.error.value.message }}</p>
  <h1>Its own words {{ title }}</h1>
  <div class="row wrap small">
    <label
      >topic
      <select :value="String(topic)" aria-label="Topic" @change="set({ t: value($event), own: '' })">
        <option v-for="each in topics" :key="each.topic" :value="String(each.topic)">{{ label(each.topic) }}</option>
      </select></label
    >
    <span v-if="choices?.dated" role="group" aria-label="Held against each other">
      <button class="plain mode" :aria-pressed="!halves" @click="set({ as: '', own: '' })">groups or times</button>
      <button class="plain mode" :aria-pressed="halves" @click="set({ as: 'halves', own: '' })">
        later against earlier
      </button>
    </span>
  </div>
  <BreakdownBar v-if="!halves" />
  <p v-if="query.error.value" class="notice bad">{{ query.error.value.message }}</p>
  <p v-else-if="choices && !parted" class="notice">
    Choose a field to group by{{ choices.dated ? ', or a period' : '; no document has a date' }}.
  </p>
  <template v-else-if="found">
    <p class="outcome">{{ found.says.join('; ') }}.</p>
    <ChartFrame title="" name="own-words" :header="HEADER" :rows="rows" plain>
      <div class="groups" :class="{ waiting: query.isPlaceholderData.value }">
        <OwnWordsOf v-for="each in found.groups" :key="each.name" :group="each" :found="found" />
      </div>
    </ChartFrame>
    <p class="soft small">{{ found.rests }}</p>
  </template>
  <Waiting v-else what="Reading the topic’s words" />
</template>

<style scoped>
.outcome {
  font-family: var(--heading);
  font-size: 1.1rem;
  margin: 0;
}
.groups {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(22rem, 1fr));
  gap: 0.9rem 1.6rem;
}
.waiting {
  opacity: 0.6;
}
</style>
