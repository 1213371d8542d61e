<script setup lang="ts">
import { scaleLinear } from 'd3-scale'
import { computed, ref } from 'vue'

import type { PrevalenceCell, PrevalenceTable } from '@/api/prevalence'
import { useTopics } from '@/api/topics'
import BaseAxis from '@/marks/BaseAxis.vue'
import ChartFrame from '@/marks/ChartFrame.vue'
import Mark from '@/marks/Mark.vue'
import Plot from '@/marks/Plot.vue'
import { colour, patternId } from '@/marks/dyes'
import { percent } from '@/marks/format'

import { estimate, resting, shareOf } from './prevalence'

const props = defineProps<{ table: PrevalenceTable; topics: number[] }>()
const { label, dye } = useTopics()
const width = ref(800)
const BAR = 20
const LEFT = 190
const names = computed(() => (props.table.groups.length ? props.table.groups : ['All documents']))
const shown = computed(() =>
  names.value.map((name, at) => ({ name, cell: props.table.cells[at] })).filter((each) => each.cell.documents),
)
const valueOf = (cell: PrevalenceCell, topic: number) => shareOf(props.table, cell, topic)!
const block = computed(() => props.topics.length * BAR + 26)
const foot = computed(() => shown.value.length * block.value)
const top = computed(() =>
  Math.max(
    0.01,
    ...shown.value
      .flatMap(({ cell }) => props.topics.map((topic) => valueOf(cell, topic)))
      .map((each) => each.high ?? each.mean),
  ),
)
const x = computed(() => scaleLinear([0, top.value], [LEFT, width.value - 60]))
const places = computed(() => x.value.ticks(6).map((tick) => ({ at: x.value(tick), label: percent(tick, 0) })))
const blocks = computed(() =>
  shown.value.map(({ name, cell }, at) => ({
    name,
    cell,
    top: at * block.value,
    bars: props.topics.map((topic, number) => {
      const value = valueOf(cell, topic)
      return {
        topic,
        value,
        y: at * block.value + 6 + number * BAR,
        said: `${label(topic)}, ${name}: ${estimate(value, props.table.least)}, ${resting(cell)}`,
        evidence: { topic, ...(props.table.group ? { field: props.table.group, value: name } : {}) },
      }
    }),
  })),
)
const rows = computed(() =>
  blocks.value.flatMap((each) =>
    each.bars.map(({ topic, value }) => [
      each.name,
      label(topic),
      value.mean,
      value.low,
      value.high,
      each.cell.documents,
      each.cell.units,
    ]),
  ),
)
</script>

<template>
  <ChartFrame
    title=""
    name="prevalence"
    :header="['group', 'topic', 'mean', 'low', 'high', 'documents', 'units']"
    :rows="rows">
    <Plot v-model:width="width" :height="foot + 20" label="Prevalence by group">
      <BaseAxis :places="places" :y="foot + 14" :grid="0" />
      <g v-for="each in blocks" :key="each.name" :class="{ faint: each.cell.units < table.few }">
        <text x="0" :y="each.top + 20" class="name">{{ each.name }}</text>
        <text x="0" :y="each.top + 36">{{ resting(each.cell) }}</text>
        <Mark v-for="bar in each.bars" :key="bar.topic" :said="bar.said" :evidence="bar.evidence">
          <rect :x="LEFT" :y="bar.y" :width="width - LEFT" :height="BAR" class="target" />
          <rect
            :x="LEFT"
            :y="bar.y + 4"
            :width="x(bar.value.mean) - LEFT"
            height="11"
            :fill="`url(#${patternId(dye(bar.topic))})`" />
          <line
            v-if="bar.value.low !== null && bar.value.high !== null"
            :x1="x(bar.value.low)"
            :x2="x(bar.value.high)"
            :y1="bar.y + 9.5"
            :y2="bar.y + 9.5"
            class="whisker" />
          <text :x="x(bar.value.high ?? bar.value.mean) + 6" :y="bar.y + 14" :style="{ fill: colour(dye(bar.topic)) }">
            {{ percent(bar.value.mean) }}
          </text>
        </Mark>
      </g>
    </Plot>
  </ChartFrame>
</template>

<style scoped>
text {
  font-size: 12px;
  fill: var(--soft);
}
.name {
  font-family: var(--heading);
  font-weight: 650;
  font-size: 14px;
  fill: var(--ink);
}
.whisker {
  stroke: var(--ink);
  stroke-width: 1.6;
}
.faint {
  opacity: 0.45;
}
</style>
