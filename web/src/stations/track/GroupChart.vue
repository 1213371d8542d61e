<script setup lang="ts">
import { scaleLinear } from 'd3-scale'
import { computed } from 'vue'

import { useTopics } from '@/api/topics'
import { useSelection } from '@/frame/selection'
import ChartFrame from '@/marks/ChartFrame.vue'
import { colour, patternId } from '@/marks/dyes'
import { count, percent } from '@/marks/format'
import { useWidth } from '@/marks/size'

import type { Table } from './prevalence'

const props = defineProps<{ table: Table; topics: number[]; least: number }>()
const { label, dye } = useTopics()
const { select, isSelected } = useSelection()
const width = useWidth()
const BAR = 20
const LEFT = 190
const names = computed(() => (props.table.groups.length ? props.table.groups : ['All documents']))
const shown = computed(() =>
  names.value.map((name, at) => ({ name, cell: props.table.cells[at] })).filter((each) => each.cell.documents),
)
const block = computed(() => props.topics.length * BAR + 26)
const top = computed(() =>
  Math.max(0.01, ...shown.value.flatMap(({ cell }) => props.topics.map((topic) => cell.values[topic].high))),
)
const x = computed(() => scaleLinear([0, top.value], [LEFT, width.value - 60]))
const choice = (name: string, topic: number) => ({
  topic,
  ...(props.table.group ? { field: props.table.group, value: name } : {}),
})
const rows = computed(() =>
  shown.value.flatMap(({ name, cell }) =>
    props.topics.map((topic) => {
      const value = cell.values[topic]
      return [name, label(topic), value.mean, value.low, value.high, cell.documents]
    }),
  ),
)
</script>

<template>
  <ChartFrame title="" name="prevalence" :header="['group', 'topic', 'mean', 'low', 'high', 'documents']" :rows="rows">
    <div ref="chart">
      <svg :width="width" :height="shown.length * block + 20" role="group" aria-label="Prevalence by group">
        <g v-for="tick in x.ticks(6)" :key="tick">
          <line :x1="x(tick)" :x2="x(tick)" y1="0" :y2="shown.length * block" class="grid" />
          <text :x="x(tick)" :y="shown.length * block + 14" text-anchor="middle">
            {{ percent(tick, 0) }}
          </text>
        </g>
        <g v-for="({ name, cell }, at) in shown" :key="name" :class="{ faint: cell.documents < least }">
          <text x="0" :y="at * block + 20" class="name">{{ name }}</text>
          <text x="0" :y="at * block + 36">n = {{ count(cell.documents) }}</text>
          <g
            v-for="(topic, number) in topics"
            :key="topic"
            class="mark"
            data-mark
            role="button"
            :class="{ selected: isSelected(choice(name, topic)) }"
            :tabindex="at === 0 && number === 0 ? 0 : -1"
            :aria-label="`${label(topic)}, ${name}: ${percent(cell.values[topic].mean)}`"
            @click="select(choice(name, topic))"
            @keydown.enter="select(choice(name, topic))">
            <title>
              {{ label(topic) }}: {{ percent(cell.values[topic].mean) }} ({{ percent(cell.values[topic].low) }} to
              {{ percent(cell.values[topic].high) }})
            </title>
            <rect :x="LEFT" :y="at * block + 6 + number * BAR" :width="width - LEFT" :height="BAR" class="ground" />
            <rect
              :x="LEFT"
              :y="at * block + 10 + number * BAR"
              :width="x(cell.values[topic].mean) - LEFT"
              height="11"
              :fill="`url(#${patternId(dye(topic))})`" />
            <line
              :x1="x(cell.values[topic].low)"
              :x2="x(cell.values[topic].high)"
              :y1="at * block + 15.5 + number * BAR"
              :y2="at * block + 15.5 + number * BAR"
              class="whisker" />
            <text
              :x="x(cell.values[topic].high) + 6"
              :y="at * block + 20 + number * BAR"
              :style="{ fill: colour(dye(topic)) }">
              {{ percent(cell.values[topic].mean) }}
            </text>
          </g>
        </g>
      </svg>
    </div>
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
.mark {
  cursor: pointer;
}
.ground {
  fill: transparent;
}
.mark:hover .ground,
.selected .ground {
  fill: var(--woad-wash);
}
.whisker {
  stroke: var(--ink);
  stroke-width: 1.6;
}
.faint {
  opacity: 0.45;
}
</style>
