<script setup lang="ts">
import { scaleSqrt } from 'd3-scale'
import { max } from 'd3-array'
import { computed } from 'vue'

import type { ApartCell, ApartTable } from '@/api/apart'
import { useTopics } from '@/api/topics'
import Swatch from '@/marks/Swatch.vue'
import { colour } from '@/marks/dyes'
import { count, percent } from '@/marks/format'

import { became, paths } from './apart'

/** Every topic as a thread through the parts: as wide as its share there, forked where it splits, frayed where it is gone. */
const props = defineProps<{ found: ApartTable; topic?: number; part?: number }>()
const emit = defineEmits<{ pick: [topic: number, part: number] }>()
const { label, dye } = useTopics()
const [WIDTH, HEIGHT] = [84, 28]
const thick = computed(() =>
  scaleSqrt([0, max(props.found.topics.flatMap((each) => each.cells.map((cell) => cell.share))) ?? 1], [1.5, 12]),
)
const said = (cell: ApartCell) => became(cell, props.found.parts[cell.part])
const drawn = (cell: ApartCell) => paths(cell.shown ? cell.became : 'same', WIDTH, HEIGHT)
</script>

<template>
  <div class="weave">
    <table>
      <thead>
        <tr class="small">
          <th scope="col">topic</th>
          <th v-for="each in found.parts" :key="each.name" scope="col" :title="each.why || each.said">
            <span class="cut">{{ each.said }}</span>
            <span class="soft numbers">{{ count(each.documents) }}</span>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="each in found.topics" :key="each.topic">
          <th scope="row" class="small">
            <span class="name"
              ><Swatch :dye="dye(each.topic)" /><span class="cut" :title="label(each.topic)">{{
                label(each.topic)
              }}</span></span
            >
          </th>
          <td v-for="cell in each.cells" :key="cell.part" :style="{ gridColumn: cell.part + 2 }">
            <button
              class="plain"
              data-mark
              tabindex="-1"
              :class="{ selected: topic === each.topic && part === cell.part }"
              :aria-pressed="topic === each.topic && part === cell.part"
              :aria-label="`${label(each.topic)}, ${found.parts[cell.part].said}: ${said(cell)}`"
              :title="`${percent(cell.share)} of its tokens; ${said(cell)}`"
              @click="emit('pick', each.topic, cell.part)">
              <svg :width="WIDTH" :height="HEIGHT" aria-hidden="true">
                <path
                  v-for="path in drawn(cell)"
                  :key="path"
                  :d="path"
                  fill="none"
                  :stroke="cell.shown ? colour(dye(each.topic)) : 'var(--soft)'"
                  :stroke-width="cell.shown ? thick(cell.share) / drawn(cell).length : 1"
                  :stroke-dasharray="!cell.shown ? '1 4' : !cell.sure ? '5 3' : undefined" />
                <g v-if="cell.shown && cell.became === 'gone'" :stroke="colour(dye(each.topic))">
                  <line v-for="y in [-5, 0, 5]" :key="y" :x1="25" :x2="38" :y1="14" :y2="14 + y" />
                </g>
                <line v-if="cell.shown && cell.became === 'merged'" x1="0" :x2="WIDTH" y1="22" y2="22" class="other" />
              </svg>
            </button>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.weave {
  overflow: auto;
  max-height: 36rem;
}
table {
  border-collapse: collapse;
}
thead th {
  position: sticky;
  top: 0;
  background: var(--paper);
  text-align: left;
  font-weight: 400;
  padding: 0 0.3rem 0.2rem;
  max-width: 84px;
  z-index: 1;
}
thead th span {
  display: block;
}
tbody th {
  position: sticky;
  left: 0;
  background: var(--paper);
  font-weight: 400;
  text-align: left;
  max-width: 15rem;
}
.name {
  display: flex;
  align-items: center;
  gap: 0.4rem;
  min-width: 0;
  padding-right: 0.6rem;
}
td {
  padding: 0;
  border-left: 1px solid var(--hairline);
}
td button {
  display: block;
  padding: 0;
  line-height: 0;
}
.selected {
  background: var(--weld-wash);
}
.other {
  stroke: var(--soft);
  stroke-width: 1;
}
</style>
