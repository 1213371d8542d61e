<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '@/api/client'
import ChartFrame from '@/marks/ChartFrame.vue'
import ThreadRows from '@/marks/ThreadRows.vue'
import { count, counted, decimal } from '@/marks/format'

const props = defineProps<{ rows: Schemas['TermRow'][]; scheme: string }>()
const emit = defineEmits<{ leave: [string, string] }>()
const figure = (row: Schemas['TermRow']) => (props.scheme === 'counts' ? count(row.weight) : decimal(row.weight, 1))
const threads = computed(() =>
  props.rows.map((row) => ({
    key: row.term,
    label: row.display,
    value: row.weight,
    figure: figure(row),
    said: `${row.display}: ${figure(row)}, in ${counted(row.documents, 'document')}`,
    knot: 4,
    evidence: { term: row.term },
  })),
)
</script>

<template>
  <ChartFrame
    title="Top terms"
    :note="scheme === 'counts' ? 'total count' : 'sum of tf-idf'"
    name="top-terms"
    :header="['term', 'weight', 'count', 'documents']"
    :rows="rows.map((row) => [row.display, row.weight, row.count, row.documents])">
    <ThreadRows
      :rows="threads"
      title="Top terms"
      colour="var(--woad)"
      fill="var(--woad)"
      :high="21"
      @leave="emit('leave', $event.key, $event.label)" />
  </ChartFrame>
</template>
