<script setup lang="ts">
import { scaleLinear } from 'd3-scale'
import { computed, ref } from 'vue'

import type { Schemas } from '@/api/client'
import type { PrevalenceTable } from '@/api/prevalence'
import { useTopics } from '@/api/topics'
import { useEvidence } from '@/frame/evidence'
import BandLine from '@/marks/BandLine.vue'
import BaseAxis from '@/marks/BaseAxis.vue'
import ChartFrame from '@/marks/ChartFrame.vue'
import Plot from '@/marks/Plot.vue'
import Points from '@/marks/Points.vue'
import Swatch from '@/marks/Swatch.vue'
import ValueAxis from '@/marks/ValueAxis.vue'
import { colour, dashOf } from '@/marks/dyes'
import { count, percent, period } from '@/marks/format'

import { cellsOf, estimate, placeOf, resting, shareOf } from './prevalence'

const props = defineProps<{
  table: PrevalenceTable
  group: number
  name: string
  topics: number[]
  top: number
  events: Schemas['EventRecord'][]
  changes: Schemas['ChangePointRow'][]
  smooth: boolean
  labels: boolean
  height: number
  overall?: PrevalenceTable
}>()
const { label, dye } = useTopics()
const { select } = useEvidence()
const width = ref(800)
const FOOT = 22
const LEFT = 46
const plot = computed(() => props.height)
const cells = computed(() => cellsOf(props.table, props.group))
const n = computed(() => cells.value.reduce((sum, cell) => sum + cell.documents, 0))
const most = computed(() => Math.max(1, ...props.table.cells.map((cell) => cell.documents)))
const x = computed(() => scaleLinear([0, Math.max(1, props.table.periods.length)], [LEFT, width.value - 6]))
const mid = (at: number) => x.value(at + 0.5)
const y = computed(() => scaleLinear([0, props.top], [plot.value, props.labels ? 16 : 6]).clamp(true))
const lines = computed(() =>
  props.topics.map((topic) => ({
    topic,
    points: cells.value.map((cell, at) => {
      const value = shareOf(props.table, cell, topic, props.smooth)
      if (!value) return null
      const known = value.low !== null && value.high !== null
      const band = known ? { low: y.value(value.low!), high: y.value(value.high!) } : {}
      return { x: mid(at), y: y.value(value.mean), ...band }
    }),
  })),
)
const marks = computed(() =>
  props.events.flatMap((event) => {
    const at = placeOf(event.day, props.table.periods)
    return at === null ? [] : [{ ...event, at: x.value(at) }]
  }),
)
const places = computed(() => props.table.periods.map(({ name }, at) => ({ at: mid(at), label: period(name) })))
/** Periods that documents leave some of open: what is counted there is not the whole of it. */
const partial = computed(() =>
  props.table.periods.flatMap(({ partial }, at) =>
    partial ? [{ partial, from: x.value(at), to: x.value(at + 1), last: at > 0 }] : [],
  ),
)
/** A knot on the line where a topic changes for good. */
const knots = computed(() =>
  props.changes.map((each) => {
    const at = props.table.periods.findIndex(({ name }) => name === each.period)
    return {
      key: `${each.topic} ${each.period}`,
      x: x.value(at),
      from: y.value(each.before),
      to: y.value(each.after),
      colour: colour(dye(each.topic)),
      said: `${label(each.topic)}: ${each.sentence}`,
    }
  }),
)
const choice = (topic: number, at: number) => ({
  topic,
  ...(props.table.group ? { field: props.table.group, value: props.name } : {}),
  period: props.table.period ?? undefined,
  at: props.table.periods[at].name,
})
const said = (topic: number, at: number) => {
  const cell = cells.value[at]
  const where = `${label(topic)}, ${props.name}, ${period(props.table.periods[at].name)}`
  return `${where}: ${estimate(shareOf(props.table, cell, topic)!, props.table.least)}, ${resting(cell)}`
}
const points = computed(() =>
  props.topics.flatMap((topic) =>
    cells.value.flatMap((cell, at) =>
      cell.documents
        ? [
            {
              key: `${topic} ${at}`,
              x: mid(at),
              y: y.value(shareOf(props.table, cell, topic)!.mean),
              said: said(topic, at),
              colour: colour(dye(topic)),
              radius: props.smooth ? 1.8 : 2.6,
              faint: cell.units < props.table.few,
              hollow: cell.units < props.table.least,
              evidence: choice(topic, at),
            },
          ]
        : [],
    ),
  ),
)
const rows = computed(() =>
  cells.value.flatMap((cell, at) =>
    props.topics.map((topic) => {
      const value = shareOf(props.table, cell, topic)
      return [
        props.table.periods[at].name,
        label(topic),
        value?.mean ?? null,
        value?.low ?? null,
        value?.high ?? null,
        cell.documents,
        cell.units,
      ]
    }),
  ),
)
const totals = computed(() => {
  const at = props.overall?.groups.indexOf(props.name) ?? -1
  return at < 0
    ? []
    : props.topics.map((topic) => ({ topic, value: shareOf(props.overall!, props.overall!.cells[at], topic) }))
})
</script>

<template>
  <ChartFrame
    :title="name"
    :note="`n = ${count(n)}`"
    :name="`prevalence-${name}`"
    :header="['period', 'topic', 'mean', 'low', 'high', 'documents', 'units']"
    :rows="rows">
    <div class="panel">
      <Plot v-model:width="width" :height="plot + FOOT" :label="`${name}, prevalence over time`" class="grow">
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
        <rect
          v-for="each in partial"
          :key="each.from"
          :x="each.from"
          :width="each.to - each.from"
          y="0"
          :height="plot"
          class="partial">
          <title>{{ each.partial }}</title>
        </rect>
        <template v-if="labels">
          <text
            v-for="each in partial"
            :key="`said of ${each.from}`"
            :x="each.last ? each.to : each.from"
            :y="plot - 4"
            :text-anchor="each.last ? 'end' : 'start'">
            {{ each.partial }}
          </text>
        </template>
        <BandLine
          v-for="each in lines"
          :key="each.topic"
          :points="each.points"
          :colour="colour(dye(each.topic))"
          :dash="dashOf(dye(each.topic))"
          smooth />
        <g v-for="each in knots" :key="each.key">
          <title>{{ each.said }}</title>
          <line :x1="each.x" :x2="each.x" :y1="each.from" :y2="each.to" class="knot" :style="{ stroke: each.colour }" />
          <path
            :d="`M${each.x - 4},${each.to + (each.to < each.from ? 6 : -6)}L${each.x},${each.to}L${each.x + 4},${each.to + (each.to < each.from ? 6 : -6)}`"
            class="knot"
            :style="{ stroke: each.colour }" />
        </g>
        <Points :points="points" :width="width" :height="plot" />
        <BaseAxis :places="places" :y="plot + 18" :room="62" />
      </Plot>
      <ul v-if="totals.length">
        <li v-for="{ topic, value } in totals" :key="topic">
          <button
            class="plain row small numbers"
            :title="value && `${label(topic)} in ${name}: ${estimate(value, table.least)}`"
            @click="select({ topic, field: table.group ?? undefined, value: name })">
            <Swatch :dye="dye(topic)" :size="12" />
            <template v-if="value"
              >{{ percent(value.mean) }}
              <span v-if="value.low !== null && value.high !== null" class="soft"
                >{{ (100 * value.low).toFixed(1) }} to {{ (100 * value.high).toFixed(1) }}</span
              ></template
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
  width: 10rem;
  white-space: nowrap;
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
.partial {
  fill: var(--sunk);
}
.knot {
  fill: none;
  stroke-width: 2.4;
}
.eventname {
  fill: var(--ink);
}
</style>
