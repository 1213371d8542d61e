<script setup lang="ts">
import { area, curveLinear, curveMonotoneX, line } from 'd3-shape'
import { computed } from 'vue'

/** A line through points, with a band from `low` to `high` where they have them; it breaks where there is none. */
export interface BandPoint {
  x: number
  y: number
  low?: number
  high?: number
}
const props = defineProps<{ points: (BandPoint | null)[]; colour: string; dash?: string; smooth?: boolean }>()
const curve = computed(() => (props.smooth ? curveMonotoneX : curveLinear))
const stroke = computed(
  () =>
    line<BandPoint | null>(
      (point) => point?.x ?? 0,
      (point) => point?.y ?? 0,
    )
      .defined((point) => point !== null)
      .curve(curve.value)(props.points) ?? '',
)
const band = computed(
  () =>
    area<BandPoint | null>()
      .defined((point) => point?.low !== undefined)
      .x((point) => point?.x ?? 0)
      .y0((point) => point?.low ?? 0)
      .y1((point) => point?.high ?? 0)
      .curve(curve.value)(props.points) ?? '',
)
</script>

<template>
  <g>
    <path v-if="band" :d="band" class="band" :style="{ fill: colour }" />
    <path :d="stroke" class="line" :style="{ stroke: colour }" :stroke-dasharray="dash" />
  </g>
</template>

<style scoped>
.band {
  opacity: 0.17;
}
.line {
  fill: none;
  stroke-width: 2.2;
}
</style>
