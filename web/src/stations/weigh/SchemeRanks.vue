<script setup lang="ts">
import { computed, ref } from 'vue'

import type { Schemas } from '@/api/client'
import ChartFrame from '@/marks/ChartFrame.vue'
import Mark from '@/marks/Mark.vue'
import Plot from '@/marks/Plot.vue'

import { five } from './numbers'

/** The top terms under two weightings, each term on a thread from its one rank to the other. */
const props = defineProps<{ found: Schemas['TopTerms']; shown: number }>()
const width = ref(600)
const HIGH = 20
const TOP = 26
const EDGE = 190
const rows = computed(() =>
  props.found.terms
    .filter((each) => each.other_rank !== null && (each.rank <= props.shown || (each.other_rank ?? 0) <= props.shown))
    .map((each) => ({ ...each, other: each.other_rank ?? 0 })),
)
const bottom = computed(() => TOP + props.shown * HIGH + 16)
const y = (rank: number) => (rank <= props.shown ? TOP + (rank - 0.5) * HIGH : bottom.value)
const thread = (from: number, to: number) => {
  const [a, b, span] = [EDGE, width.value - EDGE, (width.value - 2 * EDGE) / 2]
  return `M${a} ${y(from)}C${a + span} ${y(from)} ${b - span} ${y(to)} ${b} ${y(to)}`
}
const said = (row: (typeof rows.value)[number]) =>
  `${row.display}: ${row.rank} of ${props.found.weighting} with ${five(row.weight)}, ${row.other} of ${props.found.other} with ${five(row.other_weight ?? 0)}`
</script>

<template>
  <ChartFrame
    title="Ranks under two weightings"
    :note="`${found.weighting} at the left, ${found.other} at the right; a thread to the foot leaves the first ${shown}`"
    name="ranks"
    :header="['term', 'rank', 'weight', 'rank of the other', 'weight of the other']"
    :rows="rows.map((row) => [row.display, row.rank, row.weight, row.other, row.other_weight])">
    <Plot v-model:width="width" :height="bottom + 12" label="Ranks under two weightings">
      <text :x="EDGE - 8" y="12" text-anchor="end" class="name head">{{ found.weighting }}</text>
      <text :x="width - EDGE + 8" y="12" class="name head">{{ found.other }}</text>
      <Mark v-for="row in rows" :key="row.term" :said="said(row)" :evidence="{ term: row.term }">
        <path :d="thread(row.rank, row.other)" class="reach" />
        <path
          :d="thread(row.rank, row.other)"
          class="thread"
          :class="{ rises: row.other < row.rank, falls: row.other > row.rank }" />
        <text v-if="row.rank <= shown" :x="EDGE - 8" :y="y(row.rank) + 5" text-anchor="end" class="name">
          {{ row.display }} <tspan class="figure">{{ row.rank }}</tspan>
        </text>
        <text v-if="row.other <= shown" :x="width - EDGE + 8" :y="y(row.other) + 5" class="name">
          <tspan class="figure">{{ row.other }}</tspan> {{ row.display }}
          <tspan v-if="row.rank > shown" class="figure">from {{ row.rank }}</tspan>
        </text>
      </Mark>
    </Plot>
  </ChartFrame>
</template>

<style scoped>
.reach {
  fill: none;
  stroke: transparent;
  stroke-width: 12;
}
.thread {
  fill: none;
  stroke: var(--soft);
  stroke-width: 1.6;
}
.rises {
  stroke: var(--lichen);
}
.falls {
  stroke: var(--madder);
  stroke-dasharray: 5 3;
}
figure svg .name {
  font-family: var(--book);
  font-size: 13.5px;
  fill: var(--ink);
}
figure svg .head {
  font-family: var(--interface);
  font-weight: 700;
}
figure svg .figure {
  font-size: 11px;
  fill: var(--soft);
}
.mark:hover .thread,
.selected .thread {
  stroke-width: 3;
}
</style>
