<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '@/api/client'
import { useSelection } from '@/frame/selection'
import ChartFrame from '@/marks/ChartFrame.vue'
import { count, counted, decimal } from '@/marks/format'
import { useWidth } from '@/marks/size'

const props = defineProps<{ rows: Schemas['TermRow'][]; scheme: string; stale: boolean }>()
const emit = defineEmits<{ leave: [string, string] }>()
const { select, isSelected } = useSelection()
const width = useWidth(420)
const ROW = 21
const LABEL = 120
const most = computed(() => Math.max(1e-9, ...props.rows.map((row) => row.weight)))
const length = (row: Schemas['TermRow']) => (row.weight / most.value) * (width.value - LABEL - 62)
/** A term as a thread of a length, with the sag of a thread. */
const thread = (row: Schemas['TermRow'], at: number) => {
  const end = LABEL + length(row)
  return `M${LABEL} ${at * ROW + 11}C${LABEL + length(row) / 3} ${at * ROW + 8} ${LABEL + (2 * length(row)) / 3} ${at * ROW + 14} ${end} ${at * ROW + 11}`
}
const said = (row: Schemas['TermRow']) => (props.scheme === 'counts' ? count(row.weight) : decimal(row.weight, 1))
</script>

<template>
  <ChartFrame
    title="Top terms"
    :note="scheme === 'counts' ? 'total count' : 'sum of tf-idf'"
    name="top-terms"
    :header="['term', 'weight', 'count', 'documents']"
    :rows="rows.map((row) => [row.display, row.weight, row.count, row.documents])">
    <div ref="chart">
      <svg :width="width" :height="rows.length * ROW + 4" role="group" aria-label="Top terms">
        <g
          v-for="(row, at) in rows"
          :key="row.term"
          data-mark
          role="button"
          class="term"
          :class="{ selected: isSelected({ term: row.term }) }"
          :tabindex="at === 0 ? 0 : -1"
          @click="select({ term: row.term })"
          @keydown.enter="select({ term: row.term })"
          @keydown.x.stop="emit('leave', row.term, row.display)">
          <title>{{ row.display }}: {{ said(row) }}, in {{ counted(row.documents, 'document') }}</title>
          <rect :y="at * ROW" :width="width" :height="ROW" class="ground" />
          <text :x="LABEL - 8" :y="at * ROW + 15" text-anchor="end" class="word">
            {{ row.display }}
          </text>
          <path :d="thread(row, at)" />
          <circle :cx="LABEL + length(row)" :cy="at * ROW + 11" r="4" />
          <text :x="LABEL + length(row) + 9" :y="at * ROW + 15" class="number">
            {{ said(row) }}
          </text>
        </g>
      </svg>
    </div>
  </ChartFrame>
</template>

<style scoped>
.term {
  cursor: pointer;
}
.ground {
  fill: transparent;
}
.term:hover .ground,
.selected .ground {
  fill: var(--woad-wash);
}
path {
  fill: none;
  stroke: var(--woad);
  stroke-width: 2.6;
}
circle {
  fill: var(--woad);
}
.word {
  font-family: var(--book);
  font-size: 14px;
  fill: var(--ink);
}
.number {
  font-size: 11px;
  fill: var(--soft);
}
</style>
