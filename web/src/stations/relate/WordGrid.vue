<script setup lang="ts">
import { computed, ref } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { strandPath, useStrand, useStrandQuery } from '@/api/strand'
import { useEvidence } from '@/frame/evidence'
import Waiting from '@/frame/Waiting.vue'
import ChartFrame from '@/marks/ChartFrame.vue'
import { count } from '@/marks/format'

import CellGrid from './CellGrid.vue'
import ResidualCell from './ResidualCell.vue'
import WorkingLines from '@/marks/WorkingLines.vue'
import { residualLines } from './residual'
import { wordOf } from './words'

/** Telling words by groups: neighbours are alike in both directions. */
const props = defineProps<{ settings: Schemas['GroupWordsSettings'] }>()
const { ply } = useStrand()
const { select, isSelected } = useEvidence()
const query = useStrandQuery(
  'word grid',
  () => ply('group_words')?.identity,
  (id) => ask(client.GET('/api/strands/{strand_id}/relate/group-words/grid', { params: strandPath(id) })),
)
const found = computed(() => query.data.value)
type Row = Schemas['WordGrid']['rows'][number]
/** The cell that is worked out. */
const at = ref<[Row, number]>()
const working = computed(() => {
  if (!at.value || !found.value) return
  const [row, column] = at.value
  const all = found.value.groups.reduce((sum, each) => sum + each.tokens, 0)
  const inRow = row.cells.reduce((sum, each) => sum + each.n, 0)
  return residualLines(row.cells[column].n, inRow, found.value.groups[column].tokens, all)
})
function pick(row: Row, column: number) {
  at.value = [row, column]
  select(wordOf(row.term, found.value!.groups[column].name, props.settings))
}
const rows = computed(() =>
  (found.value?.rows ?? []).flatMap((row) =>
    row.cells.map((cell, at) => [
      row.display,
      found.value!.groups[at].name,
      cell.n,
      cell.expected,
      cell.residual,
      cell.units,
    ]),
  ),
)
</script>

<template>
  <ChartFrame
    v-if="found"
    title="Words by groups"
    note="how often, and the adjusted residual by token (no test); + more, − less than the group’s share of all tokens lets expect, by 2 or more; ordered so that neighbours are alike"
    name="words-by-groups"
    :header="['word', 'group', 'tokens', 'expected', 'adjusted residual', 'units']"
    :rows="rows">
    <CellGrid :rows="found.rows" :columns="found.groups.length">
      <template #column="{ column }"
        >{{ found.groups[column].name }}<br /><span class="soft"
          >{{ count(found.groups[column].tokens) }} tokens</span
        ></template
      >
      <template #row="{ row }">{{ row.display }}</template>
      <template #cell="{ row, column }">
        <ResidualCell
          :n="row.cells[column].n"
          :expected="row.cells[column].expected"
          :residual="row.cells[column].residual"
          :said="`${row.display}, ${found.groups[column].name}`"
          :selected="isSelected(wordOf(row.term, found.groups[column].name, props.settings))"
          @pick="pick(row, column)" />
      </template>
    </CellGrid>
    <template v-if="at && working">
      <p class="small">
        <b>{{ at[0].display }}</b> in {{ found.groups[at[1]].name }}
      </p>
      <WorkingLines :lines="working" />
    </template>
  </ChartFrame>
  <p v-else-if="query.error.value" class="notice bad">{{ query.error.value.message }}</p>
  <Waiting v-else what="Ordering words and groups" />
</template>
