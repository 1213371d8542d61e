<script setup lang="ts">
import { computed, ref } from 'vue'

import type { Schemas } from '@/api/client'
import { useEvidence } from '@/frame/evidence'
import ChartFrame from '@/marks/ChartFrame.vue'
import Swatch from '@/marks/Swatch.vue'
import { decimal } from '@/marks/format'

import CellGrid from './CellGrid.vue'
import ResidualCell from './ResidualCell.vue'
import WorkingLines from '@/marks/WorkingLines.vue'
import { residualLines } from './residual'

/** Groups against the values of a field, or against another grouping. */
const props = defineProps<{ found: Schemas['CrossedTable']; field: string }>()
const { select, isSelected } = useEvidence()
const request = (row: number, column: number) =>
  props.field ? { group: row, field: props.field, value: props.found.columns[column] } : { members: row }
/** The cell that is worked out. */
const chosen = ref<[number, number]>()
const sum = (values: number[]) => values.reduce((whole, each) => whole + each, 0)
const working = computed(() => {
  if (!chosen.value) return
  const [row, column] = chosen.value
  const { counts } = props.found
  if (!(column in (counts[row] ?? []))) return
  const inColumn = sum(counts.map((each) => each[column]))
  return residualLines(counts[row][column], sum(counts[row]), inColumn, sum(counts.flat()))
})
function pick(row: number, column: number) {
  chosen.value = [row, column]
  select(request(row, column))
}
const rows = computed(() =>
  props.found.rows.flatMap((row, at) =>
    props.found.columns.map((column, to) => [
      row,
      column,
      props.found.counts[at][to],
      props.found.expected[at][to],
      props.found.residuals[at][to],
    ]),
  ),
)
</script>

<template>
  <ChartFrame
    :title="`Groups and ${found.title}`"
    :note="found.says"
    name="groups-crossed"
    :header="['group', found.title, 'documents', 'by chance', 'adjusted residual']"
    :rows="rows">
    <CellGrid :rows="found.rows" :columns="found.columns.length">
      <template #column="{ column }">{{ found.columns[column] }}</template>
      <template #row="{ row, at }"
        ><span class="row"><Swatch :dye="at" :size="12" />{{ row }}</span></template
      >
      <template #cell="{ row, at, column }">
        <ResidualCell
          :n="found.counts[at][column]"
          :expected="found.expected[at][column]"
          :residual="found.residuals[at][column]"
          :said="`${row}, ${found.columns[column]}`"
          :selected="isSelected(request(at, column))"
          @pick="pick(at, column)" />
      </template>
    </CellGrid>
    <WorkingLines v-if="working" :lines="working" />
    <p class="small soft">
      + and − mark adjusted residuals of 2 or more ({{ decimal(2, 0) }} standard deviations of what chance gives where
      documents are independent). Those of one author need not be.
    </p>
  </ChartFrame>
</template>

<style scoped>
p {
  margin: 0.3rem 0 0;
}
</style>
