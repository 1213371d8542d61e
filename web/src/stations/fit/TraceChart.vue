<script setup lang="ts">
import { extent } from 'd3-array'
import { scaleLinear } from 'd3-scale'
import { line } from 'd3-shape'
import { computed } from 'vue'

import ChartFrame from '@/marks/ChartFrame.vue'
import { count, decimal, percent } from '@/marks/format'
import { useWidth } from '@/marks/size'

/** Rows of the iteration and of the two things that the method watches, named by it. */
const props = defineProps<{ trace: number[][]; watches: string[] }>()
const width = useWidth(400)
const HEIGHT = 240
const LEFT = 52
const RIGHT = 44
const x = computed(() => scaleLinear([0, Math.max(...props.trace.map((row) => row[0]))], [LEFT, width.value - RIGHT]))
const y = computed(() =>
  scaleLinear(extent(props.trace, (row) => row[1]) as [number, number], [HEIGHT - 24, 22]).nice(),
)
const moved = computed(() => scaleLinear([0, Math.max(0.05, ...props.trace.map((row) => row[2]))], [HEIGHT - 24, 22]))
const likelihood = computed(
  () =>
    line<number[]>(
      (row) => x.value(row[0]),
      (row) => y.value(row[1]),
    )(props.trace) ?? '',
)
const changes = computed(
  () =>
    line<number[]>(
      (row) => x.value(row[0]),
      (row) => moved.value(row[2]),
    )(props.trace) ?? '',
)
</script>

<template>
  <ChartFrame
    title="Trace"
    :note="watches.join('; dashed: ')"
    name="trace"
    :header="['iteration', ...watches]"
    :rows="trace">
    <div ref="chart">
      <svg :width="width" :height="HEIGHT" role="img" aria-label="Trace of the fit">
        <g v-for="tick in y.ticks(5)" :key="tick">
          <line :x1="LEFT" :x2="width - RIGHT" :y1="y(tick)" :y2="y(tick)" class="grid" />
          <text :x="LEFT - 6" :y="y(tick) + 4" text-anchor="end">{{ decimal(tick) }}</text>
        </g>
        <text v-for="tick in moved.ticks(4)" :key="tick" :x="width - RIGHT + 6" :y="moved(tick) + 4" class="weld">
          {{ percent(tick, 0) }}
        </text>
        <text v-for="tick in x.ticks(5)" :key="tick" :x="x(tick)" :y="HEIGHT - 6" text-anchor="middle">
          {{ count(tick) }}
        </text>
        <path :d="changes" class="changes" />
        <path :d="likelihood" class="likelihood" />
      </svg>
    </div>
  </ChartFrame>
</template>

<style scoped>
.weld {
  fill: var(--weld);
}
path {
  fill: none;
}
.likelihood {
  stroke: var(--woad);
  stroke-width: 2.4;
}
.changes {
  stroke: var(--weld);
  stroke-width: 1.6;
  stroke-dasharray: 5 3;
}
</style>
