<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '@/api/client'
import { useEvidence } from '@/frame/evidence'
import ChartFrame from '@/marks/ChartFrame.vue'
import Swatch from '@/marks/Swatch.vue'
import { colour } from '@/marks/dyes'
import { decimal } from '@/marks/format'

import CellGrid from './CellGrid.vue'

/** Mean weight of telling words in every group: the highest of each word as a full stitch. */
const props = defineProps<{ found: Schemas['MeanGrid'] }>()
const { select, isSelected } = useEvidence()
const most = computed(() => Math.max(...props.found.rows.map((row) => row.means[row.highest])))
const rows = computed(() => props.found.rows.map((row) => [row.display, ...row.means]))
const said = (row: Schemas['MeanRow'], group: number) =>
  `${row.display} in ${props.found.groups[group]}: mean weight ${decimal(row.means[group], 3)}`
const side = (value: number) => `${Math.round(4 + 14 * Math.sqrt(value / most.value))}px`
</script>

<template>
  <ChartFrame
    title="Mean weight of words by group"
    note="the larger the square, the higher; the highest of a word is filled"
    name="group-words-means"
    :header="['word', ...found.groups]"
    :rows="rows">
    <CellGrid :rows="found.rows" :columns="found.groups.length">
      <template #column="{ column }"
        ><span :title="found.groups[column]"><Swatch :dye="column" :size="14" /></span
      ></template>
      <template #row="{ row }">{{ row.display }}</template>
      <template #cell="{ row, column }">
        <button
          v-if="row.means[column] > 0"
          class="plain cell"
          data-mark
          :class="{ chosen: isSelected({ term: row.term, group: column }) }"
          :title="said(row, column)"
          :aria-label="said(row, column)"
          @click="select({ term: row.term, group: column })">
          <span
            :style="{
              width: side(row.means[column]),
              height: side(row.means[column]),
              borderColor: colour(column),
              background: column === row.highest ? colour(column) : 'transparent',
            }" />
        </button>
      </template>
    </CellGrid>
  </ChartFrame>
</template>

<style scoped>
.cell {
  display: grid;
  place-items: center;
  width: 34px;
  height: 24px;
}
.cell span {
  border: 1.5px solid;
  border-radius: 3px;
}
.cell:hover,
.chosen {
  background: var(--woad-wash);
}
</style>
