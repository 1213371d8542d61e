<script setup lang="ts">
import { computed } from 'vue'

import type { PrevalenceTable } from '@/api/prevalence'
import { count, counted } from '@/marks/format'

import WhySuggested from './WhySuggested.vue'

/** What the figures above rest on: suggestions, what is left out, units that are few. */
const props = defineProps<{ table: PrevalenceTable; without?: string[] }>()
const missing = computed(() =>
  [props.table.group, props.table.periods.length ? 'date' : ''].filter(Boolean).join(' or '),
)
const fewest = computed(() => {
  const units = props.table.cells.map((cell) => cell.units).filter((each) => each > 0)
  return { few: units.filter((each) => each < props.table.few).length, all: units.length }
})
</script>

<template>
  <p class="soft small">
    <template v-if="table.left_out"
      >{{ counted(table.left_out, 'document') }} without {{ missing }} {{ table.left_out === 1 ? 'is' : 'are' }} left
      out.
    </template>
    <WhySuggested />
    {{ [table.of_weights, table.group ? table.of_differences : '', table.of_seeds].filter(Boolean).join(' ') }}
    <template v-if="fewest.few"
      >{{ count(fewest.few) }} of {{ counted(fewest.all, 'cell') }} {{ fewest.few === 1 ? 'rests' : 'rest' }} on fewer
      than {{ table.few }} units and {{ fewest.few === 1 ? 'is' : 'are' }} drawn faint; fewer than {{ table.least }} get
      no interval.
    </template>
    <template v-if="without?.length"
      >Not compared, for fewer than {{ table.least }} units: {{ without.join(', ') }}.
    </template>
  </p>
</template>
