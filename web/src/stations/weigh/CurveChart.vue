<script setup lang="ts">
import { scaleLinear, scaleLog } from 'd3-scale'
import { computed, ref } from 'vue'

import BandLine from '@/marks/BandLine.vue'
import ChartFrame from '@/marks/ChartFrame.vue'
import Plot from '@/marks/Plot.vue'
import { count } from '@/marks/format'

/** A curve of a vocabulary, on plain or logarithmic axes, with what it says. */
const props = defineProps<{
  title: string
  points: [number, number][]
  says: string
  across: string
  up: string
  logs: boolean
  dots: boolean
}>()
const width = ref(260)
const HEIGHT = 170
const LEFT = 46
const FOOT = 32
const farthest = computed(() => Math.max(2, ...props.points.map(([x]) => x)))
const highest = computed(() => Math.max(2, ...props.points.map(([, y]) => y)))
const scale = (most: number, from: number, to: number) =>
  props.logs ? scaleLog([1, most], [from, to]) : scaleLinear([0, most], [from, to])
const x = computed(() => scale(farthest.value, LEFT, width.value - 10))
const y = computed(() => scale(highest.value, HEIGHT - FOOT, 8))
const ticks = (most: number, scaled: { ticks: (count: number) => number[] }, wanted: number) =>
  props.logs
    ? Array.from({ length: Math.floor(Math.log10(most)) + 1 }, (_, power) => 10 ** power)
    : scaled.ticks(wanted)
const line = computed(() => props.points.map(([a, b]) => ({ x: x.value(a), y: y.value(b) })))
const brief = (value: number) => (value >= 1e6 ? `${value / 1e6} M` : count(value))
</script>

<template>
  <ChartFrame
    :title="title"
    :name="title.toLowerCase().replaceAll(/[^a-z]+/g, '-')"
    :header="[across, up]"
    :rows="points">
    <Plot v-model:width="width" :height="HEIGHT" :label="`${title}: ${says}`">
      <g v-for="tick in ticks(highest, y, 3)" :key="`y${tick}`">
        <line :x1="LEFT" :x2="width - 10" :y1="y(tick)" :y2="y(tick)" class="grid" />
        <text :x="LEFT - 5" :y="y(tick) + 4" text-anchor="end">{{ brief(tick) }}</text>
      </g>
      <text v-for="tick in ticks(farthest, x, 3)" :key="`x${tick}`" :x="x(tick)" :y="HEIGHT - 17" text-anchor="middle">
        {{ brief(tick) }}
      </text>
      <text :x="width - 10" :y="HEIGHT - 3" text-anchor="end">{{ across }}</text>
      <text :x="LEFT + 4" y="10">{{ up }}</text>
      <BandLine v-if="!dots" :points="line" colour="var(--woad)" />
      <circle v-for="(each, at) in dots ? line : []" :key="at" :cx="each.x" :cy="each.y" r="1.8" class="dot" />
    </Plot>
    <p class="small says">{{ says }}</p>
  </ChartFrame>
</template>

<style scoped>
.dot {
  fill: var(--woad);
}
.says {
  margin: 0.3rem 0 0;
}
</style>
