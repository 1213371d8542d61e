<script setup lang="ts">
import { scaleBand, scaleLinear } from 'd3-scale'
import { computed, ref } from 'vue'

import type { EvidenceRequest } from '@/api/evidence'

import BaseAxis from './BaseAxis.vue'
import ChartFrame from './ChartFrame.vue'
import { count, counted } from './format'
import Mark from './Mark.vue'
import Plot from './Plot.vue'
import ValueAxis from './ValueAxis.vue'

/** How many documents there are of each of a row of things. */
interface Bar {
  label: string
  said: string
  count: number
  evidence: EvidenceRequest
}
const props = defineProps<{ title: string; note: string; name: string; bars: Bar[] }>()
const width = ref(800)
const HEIGHT = 110
const FOOT = 18
const LEFT = 42
const x = computed(() => scaleBand(props.bars.keys(), [LEFT, width.value]).padding(0.2))
const y = computed(() => {
  const most = Math.max(1, ...props.bars.map((bar) => bar.count))
  return scaleLinear([0, most], [HEIGHT - FOOT, 6])
})
const places = computed(() =>
  props.bars.map((bar, at) => ({ at: (x.value(at) ?? 0) + x.value.bandwidth() / 2, label: bar.label })),
)
const rows = computed(() => props.bars.map((bar) => [bar.label, bar.count]))
</script>

<template>
  <ChartFrame :title="title" :note="note" :name="name" :header="['bin', 'documents']" :rows="rows">
    <Plot v-model:width="width" :height="HEIGHT" :label="title">
      <ValueAxis :scale="y" :ticks="3" :left="LEFT - 2" :right="width" :say="count" />
      <Mark
        v-for="(bar, at) in bars"
        :key="bar.label"
        v-slot="{ selected }"
        :said="`${bar.said}: ${counted(bar.count, 'document')}`"
        :evidence="bar.evidence">
        <rect :x="x(at)" y="0" :width="x.step()" :height="HEIGHT - FOOT" class="target" />
        <rect
          :x="x(at)"
          :y="y(bar.count)"
          :width="x.bandwidth()"
          :height="HEIGHT - FOOT - y(bar.count)"
          class="column"
          :class="{ selected }" />
      </Mark>
      <BaseAxis :places="places" :y="HEIGHT - 4" :right="width" />
    </Plot>
  </ChartFrame>
</template>

<style scoped>
.column {
  fill: var(--woad);
}
.column.selected {
  fill: var(--weld);
}
</style>
