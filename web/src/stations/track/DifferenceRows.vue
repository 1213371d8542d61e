<script setup lang="ts">
import { scaleLinear } from 'd3-scale'
import { computed, ref } from 'vue'

import type { EvidenceRequest } from '@/api/evidence'
import { useTopics } from '@/api/topics'
import BaseAxis from '@/marks/BaseAxis.vue'
import ChartFrame from '@/marks/ChartFrame.vue'
import Mark from '@/marks/Mark.vue'
import Plot from '@/marks/Plot.vue'
import { patternId } from '@/marks/dyes'

import { chance, points } from './prevalence'

/** Differences about none: estimate, interval, p; what is sure is drawn heavy and coloured by its direction. */
export interface DifferenceRow {
  key: string
  topic: number
  title: string
  detail: string
  said: string
  difference: number
  low: number
  high: number
  adjusted: number
  evidence: EvidenceRequest
}
const props = defineProps<{
  title: string
  note: string
  name: string
  header: string[]
  data: (string | number | null)[][]
  rows: DifferenceRow[]
}>()
const { dye } = useTopics()
const width = ref(800)
const ROW = 24
const LEFT = 290
const RIGHT = 200
const CLEAR = 0.05
const far = computed(() => Math.max(0.01, ...props.rows.flatMap((each) => [Math.abs(each.low), Math.abs(each.high)])))
const x = computed(() => scaleLinear([-far.value, far.value], [LEFT, width.value - RIGHT]))
const places = computed(() =>
  x.value.ticks(5).map((tick) => ({ at: x.value(tick), label: tick ? points(tick) : 'none', strong: !tick })),
)
const foot = computed(() => props.rows.length * ROW)
const cut = (text: string, most: number) => (text.length > most ? `${text.slice(0, most - 1)}…` : text)
const bars = computed(() =>
  props.rows.map((each, at) => {
    const sure = each.adjusted < CLEAR
    const detail = cut(each.detail, 22)
    return {
      ...each,
      title: cut(each.title, 42 - detail.length),
      detail,
      y: at * ROW,
      classes: { more: sure && each.difference > 0, less: sure && each.difference < 0 },
      sure,
      interval: `${points(each.difference)} (${points(each.low)} to ${points(each.high)})`,
    }
  }),
)
</script>

<template>
  <ChartFrame :title="title" :note="note" :name="name" :header="header" :rows="data">
    <Plot v-model:width="width" :height="foot + 20" :label="title">
      <BaseAxis :places="places" :y="foot + 14" :grid="0" />
      <line :x1="x(0)" :x2="x(0)" y1="0" :y2="foot" class="none" />
      <Mark v-for="bar in bars" :key="bar.key" :said="bar.said" :evidence="bar.evidence">
        <rect x="0" :y="bar.y" :width="width" :height="ROW" class="target" />
        <rect x="0" :y="bar.y + 5" width="13" height="13" :fill="`url(#${patternId(dye(bar.topic))})`" />
        <text x="20" :y="bar.y + 16" :class="{ sure: bar.sure }">
          {{ bar.title }} <tspan class="detail">{{ bar.detail }}</tspan>
        </text>
        <line
          :x1="x(bar.low)"
          :x2="x(bar.high)"
          :y1="bar.y + 12"
          :y2="bar.y + 12"
          class="whisker"
          :class="bar.classes" />
        <circle :cx="x(bar.difference)" :cy="bar.y + 12" r="4" class="dot" :class="bar.classes" />
        <text :x="width - RIGHT + 12" :y="bar.y + 16" :class="{ sure: bar.sure }">
          {{ bar.interval }}
          <tspan class="detail">{{ chance(bar.adjusted) }}</tspan>
        </text>
      </Mark>
    </Plot>
  </ChartFrame>
</template>

<style scoped>
text {
  font-size: 12px;
  fill: var(--soft);
}
.sure {
  fill: var(--ink);
  font-weight: 650;
}
.detail {
  fill: var(--soft);
  font-weight: 400;
}
.none {
  stroke: var(--ink);
}
.whisker {
  stroke: var(--soft);
  stroke-width: 1.6;
}
.dot {
  fill: var(--paper);
  stroke: var(--soft);
  stroke-width: 1.6;
}
.whisker.more {
  stroke: var(--lichen);
  stroke-width: 2.4;
}
.whisker.less {
  stroke: var(--weld);
  stroke-width: 2.4;
}
.dot.more {
  fill: var(--lichen);
  stroke: var(--lichen);
}
.dot.less {
  fill: var(--weld);
  stroke: var(--weld);
}
</style>
