<script setup lang="ts">
import { extent } from 'd3-array'
import { scaleLinear, scalePoint } from 'd3-scale'
import { area, line } from 'd3-shape'
import { computed } from 'vue'

import { decimal } from '@/marks/format'
import { useWidth } from '@/marks/size'
import ValueAxis from '@/marks/ValueAxis.vue'

import { spreads, type Fit, type Measure, type Spread } from './sweep'

const props = defineProps<{
  fits: Fit[]
  measures: { key: Measure; name: string; note: string }[]
  candidates: number[]
  suggested: number | null
  chosen: string
}>()
const emit = defineEmits<{ pick: [string] }>()
const width = useWidth()
const LEFT = 210
const PANEL = 112
const GAP = 20
const height = computed(() => props.measures.length * (PANEL + GAP) + 26)
const counts = computed(() => [...new Set(props.fits.map((fit) => fit.settings.topics ?? 0))].sort((a, b) => a - b))
const x = computed(() => scalePoint<number>(counts.value, [LEFT + 10, width.value - 20]).padding(0.3))
const at = (topics: number) => x.value(topics) ?? 0
const panels = computed(() =>
  props.measures.map((measure, index) => {
    const values = props.fits.flatMap((fit) => fit[measure.key] ?? [])
    const [low, high] = extent(values) as [number, number]
    const room = Math.max((high - low) * 0.12, 0.01)
    const top = index * (PANEL + GAP)
    const y = scaleLinear([low - room, high + room], [top + PANEL, top + 8])
    const rows = spreads(props.fits, measure.key)
    return {
      ...measure,
      top,
      y,
      line:
        line<Spread>(
          (row) => at(row.topics),
          (row) => y(row.mean),
        )(rows) ?? '',
      band:
        area<Spread>()
          .x((row) => at(row.topics))
          .y0((row) => y(row.low))
          .y1((row) => y(row.high))(rows) ?? '',
      points: props.fits.filter((fit) => fit[measure.key] !== null && fit[measure.key] !== undefined),
    }
  }),
)
const said = (fit: Fit, measure: { key: Measure; name: string }) =>
  `${fit.settings.topics} topics, seed ${fit.settings.seed}: ${measure.name.toLowerCase()} ${decimal(fit[measure.key] ?? 0, 3)}`
</script>

<template>
  <div ref="chart">
    <svg :width="width" :height="height" role="group" aria-label="Measures over the topic counts">
      <rect
        v-for="topics in candidates"
        :key="topics"
        :x="at(topics) - 16"
        y="0"
        width="32"
        :height="height - 24"
        class="candidate"
        :class="{ suggested: topics === suggested }" />
      <g v-for="panel in panels" :key="panel.key">
        <text x="0" :y="panel.top + 20" class="name">{{ panel.name }}</text>
        <foreignObject x="0" :y="panel.top + 26" :width="LEFT - 60" :height="PANEL - 26"
          ><p class="note">{{ panel.note }}</p></foreignObject
        >
        <line :x1="LEFT" :x2="width" :y1="panel.top + PANEL" :y2="panel.top + PANEL" class="grid" />
        <ValueAxis :scale="panel.y" :ticks="3" :left="LEFT" :right="width" :say="(tick) => decimal(tick)" bare />
        <path :d="panel.band" class="band" />
        <path :d="panel.line" class="mean" />
        <g v-for="(fit, number) in panel.points" :key="fit.identity">
          <circle
            :cx="at(fit.settings.topics ?? 0)"
            :cy="panel.y(fit[panel.key] ?? 0)"
            :r="fit.identity === chosen ? 6 : 3.4"
            class="point"
            :class="{ chosen: fit.identity === chosen }" />
          <circle
            :cx="at(fit.settings.topics ?? 0)"
            :cy="panel.y(fit[panel.key] ?? 0)"
            r="10"
            class="target"
            data-mark
            role="button"
            :tabindex="number === 0 ? 0 : -1"
            :aria-label="said(fit, panel)"
            @click="emit('pick', fit.identity)"
            @keydown.enter="emit('pick', fit.identity)">
            <title>{{ said(fit, panel) }}</title>
          </circle>
        </g>
      </g>
      <text
        v-for="topics in counts"
        :key="topics"
        :x="at(topics)"
        :y="height - 6"
        text-anchor="middle"
        class="tick"
        :class="{ bold: candidates.includes(topics) }">
        {{ topics }}
      </text>
    </svg>
  </div>
</template>

<style scoped>
.name {
  font-family: var(--heading);
  font-size: 15px;
  font-weight: 650;
  fill: var(--ink);
}
.note {
  margin: 0;
  font-size: 12px;
  color: var(--soft);
  line-height: 1.35;
}
.tick {
  font-size: 13px;
  fill: var(--ink);
}
.bold {
  font-weight: 700;
}
.candidate {
  fill: var(--lichen-wash);
}
.candidate.suggested {
  stroke: var(--lichen);
}
.band {
  fill: var(--woad);
  opacity: 0.16;
}
.mean {
  fill: none;
  stroke: var(--woad);
  stroke-width: 2.2;
}
.point {
  fill: var(--ink);
  opacity: 0.62;
}
.point.chosen {
  fill: var(--madder);
  opacity: 1;
}
.target {
  fill: transparent;
  cursor: pointer;
}
.target:hover {
  fill: var(--woad-wash);
}
</style>
