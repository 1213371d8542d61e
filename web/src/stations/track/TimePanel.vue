<script setup lang="ts">
import { scaleLinear } from 'd3-scale'
import { area, curveMonotoneX, line } from 'd3-shape'
import { computed } from 'vue'

import type { Schemas } from '@/api/client'
import { useTopics } from '@/api/topics'
import { useSelection } from '@/frame/selection'
import ChartFrame from '@/marks/ChartFrame.vue'
import Swatch from '@/marks/Swatch.vue'
import { colour, dashOf } from '@/marks/dyes'
import { count, percent, period } from '@/marks/format'
import { useWidth } from '@/marks/size'
import ValueAxis from '@/marks/ValueAxis.vue'

import { cellsOf, placeOf, runs, type Table } from './prevalence'

const props = defineProps<{
  table: Table
  group: number
  name: string
  topics: number[]
  top: number
  events: Schemas['EventRecord'][]
  labels: boolean
  tall: boolean
  overall?: Table
}>()
const { label, dye } = useTopics()
const { select, isSelected } = useSelection()
const width = useWidth()
const FOOT = 22
const LEFT = 46
const FAINT = 10
const plot = computed(() => (props.tall ? 340 : 76))
const height = computed(() => plot.value + FOOT)
const cells = computed(() => cellsOf(props.table, props.group))
const n = computed(() => cells.value.reduce((sum, cell) => sum + cell.documents, 0))
const most = computed(() => Math.max(1, ...props.table.cells.map((cell) => cell.documents)))
const x = computed(() => scaleLinear([0, Math.max(1, props.table.periods.length)], [LEFT, width.value - 6]))
const mid = (at: number) => x.value(at + 0.5)
const y = computed(() => scaleLinear([0, props.top], [plot.value, props.labels ? 16 : 6]).clamp(true))
const lines = computed(() =>
  props.topics.map((topic) => {
    const parts = runs(cells.value)
    const value = (at: number) => cells.value[at].values[topic]
    const stroke = line<number>(mid, (at) => y.value(value(at).mean)).curve(curveMonotoneX)
    const band = area<number>()
      .x(mid)
      .y0((at) => y.value(value(at).low))
      .y1((at) => y.value(value(at).high))
      .curve(curveMonotoneX)
    return {
      topic,
      paths: parts.map((part) => stroke(part) ?? ''),
      bands: parts.map((part) => band(part) ?? ''),
    }
  }),
)
const marks = computed(() =>
  props.events.flatMap((event) => {
    const at = placeOf(event.day, props.table.periods)
    return at === null ? [] : [{ ...event, at: x.value(at) }]
  }),
)
const every = computed(() => Math.ceil(props.table.periods.length / Math.max(1, (width.value - LEFT) / 62)))
const choice = (topic: number, at: number) => ({
  topic,
  ...(props.table.group ? { field: props.table.group, value: props.name } : {}),
  period: props.table.period ?? undefined,
  at: props.table.periods[at],
})
const said = (topic: number, at: number) => {
  const value = cells.value[at].values[topic]
  return `${label(topic)}, ${props.name}, ${period(props.table.periods[at])}: ${percent(value.mean)} (${percent(value.low)} to ${percent(value.high)}), n ${count(cells.value[at].documents)}`
}
const rows = computed(() =>
  cells.value.flatMap((cell, at) =>
    props.topics.map((topic) => {
      const value = cell.values[topic]
      return [
        props.table.periods[at],
        label(topic),
        value?.mean ?? null,
        value?.low ?? null,
        value?.high ?? null,
        cell.documents,
      ]
    }),
  ),
)
const totals = computed(() => {
  const at = props.overall?.groups.indexOf(props.name) ?? -1
  return at < 0 ? [] : props.topics.map((topic) => ({ topic, value: props.overall?.cells[at].values[topic] }))
})
</script>

<template>
  <ChartFrame
    :title="name"
    :note="`n = ${count(n)}`"
    :name="`prevalence-${name}`"
    :header="['period', 'topic', 'mean', 'low', 'high', 'documents']"
    :rows="rows">
    <div class="panel">
      <div ref="chart" class="grow">
        <svg :width="width" :height="height" role="group" :aria-label="`${name}, prevalence over time`">
          <ValueAxis :scale="y" :ticks="2" :left="LEFT" :right="width - 6" :say="(tick) => percent(tick, 0)" />
          <line
            v-for="(cell, at) in cells"
            :key="at"
            :x1="mid(at)"
            :x2="mid(at)"
            :y1="plot"
            :y2="plot + (6 * cell.documents) / most"
            class="n" />
          <g v-for="each in marks" :key="each.id">
            <line :x1="each.at" :x2="each.at" y1="0" :y2="plot" class="event" />
            <text v-if="labels" :x="each.at + 3" y="10" class="eventname">{{ each.label }}</text>
          </g>
          <g v-for="each in lines" :key="each.topic">
            <path
              v-for="(path, at) in each.bands"
              :key="`b${at}`"
              :d="path"
              class="band"
              :style="{ fill: colour(dye(each.topic)) }" />
            <path
              v-for="(path, at) in each.paths"
              :key="at"
              :d="path"
              class="line"
              :style="{ stroke: colour(dye(each.topic)) }"
              :stroke-dasharray="dashOf(dye(each.topic))" />
          </g>
          <template v-for="each in lines" :key="each.topic">
            <template v-for="(cell, at) in cells" :key="at">
              <circle
                v-if="cell.documents"
                :cx="mid(at)"
                :cy="y(cell.values[each.topic].mean)"
                :r="isSelected(choice(each.topic, at)) ? 5.5 : 2.6"
                class="dot"
                :class="{
                  faint: cell.documents < FAINT,
                  selected: isSelected(choice(each.topic, at)),
                }"
                :style="{ fill: colour(dye(each.topic)) }"
                data-mark
                role="button"
                :tabindex="each.topic === topics[0] && at === 0 ? 0 : -1"
                :aria-label="said(each.topic, at)"
                @click="select(choice(each.topic, at))"
                @keydown.enter="select(choice(each.topic, at))">
                <title>{{ said(each.topic, at) }}</title>
              </circle>
            </template>
          </template>
          <template v-for="(name_, at) in table.periods" :key="name_">
            <text v-if="at % every === 0" :x="mid(at)" :y="plot + 18" text-anchor="middle">
              {{ period(name_) }}
            </text>
          </template>
        </svg>
      </div>
      <ul v-if="totals.length">
        <li v-for="{ topic, value } in totals" :key="topic">
          <button
            class="plain row small numbers"
            :title="`${label(topic)} in ${name}`"
            @click="select({ topic, field: table.group ?? undefined, value: name })">
            <Swatch :dye="dye(topic)" :size="12" />
            <template v-if="value"
              >{{ percent(value.mean) }}
              <span class="soft">± {{ (50 * (value.high - value.low)).toFixed(1) }}</span></template
            >
          </button>
        </li>
      </ul>
    </div>
  </ChartFrame>
</template>

<style scoped>
.panel {
  display: flex;
  gap: 1rem;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  width: 7rem;
  flex: none;
}
li button {
  min-height: 24px;
}
.n {
  stroke: var(--soft);
  stroke-width: 2;
}
.event {
  stroke: var(--ink);
  stroke-dasharray: 1.5 3;
}
.eventname {
  fill: var(--ink);
}
.band {
  opacity: 0.17;
}
.line {
  fill: none;
  stroke-width: 2.2;
}
.dot {
  cursor: pointer;
  stroke: transparent;
  stroke-width: 9;
}
.dot.faint {
  opacity: 0.4;
}
.dot.selected {
  stroke: var(--ink);
  stroke-width: 2;
}
.dot:hover {
  stroke: var(--ink);
  stroke-width: 2;
}
</style>
