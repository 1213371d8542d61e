<script setup lang="ts">
import { curveMonotoneX, line } from 'd3-shape'
import { computed, ref } from 'vue'

import { useStrand } from '@/api/strand'
import ChartFrame from '@/marks/ChartFrame.vue'
import Plot from '@/marks/Plot.vue'
import Swatch from '@/marks/Swatch.vue'
import { colour, dashOf } from '@/marks/dyes'
import { count, percent } from '@/marks/format'

import type { Forming } from './fit'
import { ranks } from './forming'

/** Topics while they form: threads that swap places as one outgrows another, with the words that each has just now. */
const props = defineProps<{ forming: Forming }>()
const { made } = useStrand()
const grown = computed(() => props.forming.grown ?? [])
const topics = computed(() => props.forming.top?.length ?? 0)
const row = computed(() => (topics.value > 30 ? 17 : topics.value > 16 ? 21 : 26))
const width = ref(260)
const places = computed(() => ranks(grown.value.map(([, shares]) => shares)))
const last = computed(() => grown.value.at(-1)?.[1] ?? [])
/** The topics from the largest to the smallest, as they are now. */
const order = computed(() => last.value.map((_, topic) => topic).sort((a, b) => now(a) - now(b)))
const now = (topic: number) => places.value.at(-1)?.[topic] ?? topic
const first = computed(() => grown.value[0]?.[0] ?? 0)
const span = computed(() => Math.max(1, (grown.value.at(-1)?.[0] ?? 1) - first.value))
const x = (at: number) => 4 + ((grown.value[at][0] - first.value) / span.value) * (width.value - 12)
const path = (topic: number) =>
  line<number>()
    .x((_, at) => x(at))
    .y((rank) => (rank + 0.5) * row.value)
    .curve(curveMonotoneX)(places.value.map((each) => each[topic])) ?? ''
const rows = computed(() => grown.value.flatMap(([at, shares]) => shares.map((share, k) => [at, k + 1, share])))
</script>

<template>
  <ChartFrame
    title="Topics forming"
    :note="`iterations ${count(first)} to ${count(grown.at(-1)?.[0] ?? 0)}; the largest of ${count(made.matrix?.tokens ?? 0)} tokens first`"
    name="topics-forming"
    :header="['iteration', 'topic', 'share of tokens']"
    :rows="rows">
    <div class="forming">
      <Plot v-model:width="width" :height="topics * row" label="Places of the topics by size, over the iterations">
        <path
          v-for="topic in order"
          :key="topic"
          :d="path(topic)"
          :style="{ stroke: colour(topic) }"
          :stroke-dasharray="dashOf(topic)" />
        <circle
          v-for="topic in order"
          :key="`end of ${topic}`"
          :cx="x(grown.length - 1)"
          :cy="(now(topic) + 0.5) * row"
          r="3"
          :style="{ fill: colour(topic) }" />
      </Plot>
      <TransitionGroup tag="ol" name="swap" :style="{ '--row': `${row}px` }">
        <li v-for="topic in order" :key="topic" :class="{ tight: row < 20 }">
          <Swatch :dye="topic" :size="row < 20 ? 11 : 15" />
          <span class="book cut grow">{{ forming.top?.[topic]?.join(' ') }}</span>
          <span class="soft numbers small">{{ percent(last[topic] ?? 0) }}</span>
        </li>
      </TransitionGroup>
    </div>
  </ChartFrame>
</template>

<style scoped>
.forming {
  display: grid;
  grid-template-columns: minmax(0, 2fr) minmax(0, 3fr);
  gap: 0.4rem;
}
path {
  fill: none;
  stroke-width: 2.2;
}
ol {
  list-style: none;
  margin: 0;
  padding: 0;
  min-width: 0;
}
li {
  display: flex;
  gap: 0.5rem;
  align-items: center;
  height: var(--row);
}
.tight {
  font-size: 0.8rem;
}
.swap-move {
  transition: transform 0.35s ease;
}
@media (prefers-reduced-motion: reduce) {
  .swap-move {
    transition: none;
  }
}
</style>
