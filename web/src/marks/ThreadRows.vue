<script setup lang="ts">
import { computed, ref } from 'vue'

import type { EvidenceRequest } from '@/api/evidence'

import Mark from './Mark.vue'
import Plot from './Plot.vue'

/** Words as threads of a length, each with the sag of a thread and a knot at its end. */
export interface ThreadRow {
  key: string
  label: string
  value: number
  figure: string
  said: string
  knot: number
  evidence: EvidenceRequest
}
const props = defineProps<{
  rows: ThreadRow[]
  title: string
  colour: string
  fill: string
  high: number
  figure?: number
}>()
const emit = defineEmits<{ leave: [ThreadRow]; pick: [ThreadRow] }>()
const width = ref(420)
const LABEL = 118
const most = computed(() => Math.max(1e-9, ...props.rows.map((row) => row.value)))
const length = (row: ThreadRow) => (row.value / most.value) * Math.max(20, width.value - LABEL - (props.figure ?? 78))
const thread = (row: ThreadRow, y: number) => {
  const reach = length(row)
  return `M${LABEL} ${y}c${reach / 3} -4 ${(2 * reach) / 3} 4 ${reach} 0`
}
</script>

<template>
  <Plot v-model:width="width" :height="rows.length * high + 4" :label="title">
    <Mark
      v-for="(row, at) in rows"
      :key="at"
      :said="row.said"
      :evidence="row.evidence"
      @pick="emit('pick', row)"
      @keydown.x.stop="emit('leave', row)">
      <rect :y="at * high" :width="width" :height="high" class="target" />
      <text :x="LABEL - 9" :y="(at + 0.5) * high + 5" text-anchor="end" class="name">{{ row.label }}</text>
      <path :d="thread(row, (at + 0.5) * high)" :style="{ stroke: colour }" />
      <circle
        :cx="LABEL + length(row)"
        :cy="(at + 0.5) * high"
        :r="row.knot"
        :style="{ stroke: colour }"
        :fill="fill" />
      <text :x="width - 4" :y="(at + 0.5) * high + 5" text-anchor="end" class="figure">{{ row.figure }}</text>
    </Mark>
  </Plot>
</template>

<style scoped>
path {
  fill: none;
  stroke-width: 2.8;
  stroke-linecap: round;
}
.name {
  font-family: var(--book);
  font-size: 14.5px;
  fill: var(--ink);
}
.figure {
  font-size: 12px;
  fill: var(--soft);
}
</style>
