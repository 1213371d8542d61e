<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '@/api/client'
import ChartFrame from '@/marks/ChartFrame.vue'
import ThreadRows from '@/marks/ThreadRows.vue'
import { counted } from '@/marks/format'

import { five } from './numbers'

const props = defineProps<{ found: Schemas['TopTerms'] }>()
const emit = defineEmits<{ leave: [string] }>()
const threads = computed(() =>
  props.found.terms.map((row) => ({
    key: row.term,
    label: row.display,
    value: row.weight,
    figure: five(row.weight),
    said: `${row.display}: ${five(row.weight)}, in ${counted(row.documents, 'document')}`,
    knot: 4,
    evidence: { term: row.term },
  })),
)
</script>

<template>
  <ChartFrame
    title="Top terms"
    :note="`${found.weighting}, summed over ${counted(found.documents, 'document')}`"
    name="top-terms"
    :header="['term', 'weight', 'count', 'documents']"
    :rows="found.terms.map((row) => [row.display, row.weight, row.count, row.documents])">
    <ThreadRows
      :rows="threads"
      title="Top terms"
      colour="var(--woad)"
      fill="var(--woad)"
      :high="21"
      @leave="emit('leave', $event.key)" />
  </ChartFrame>
</template>
