<script setup lang="ts">
import { extent } from 'd3-array'
import { scaleLinear, scalePoint } from 'd3-scale'
import { computed, ref } from 'vue'

import BandLine from '@/marks/BandLine.vue'
import BaseAxis from '@/marks/BaseAxis.vue'
import Plot from '@/marks/Plot.vue'
import Points from '@/marks/Points.vue'
import ValueAxis from '@/marks/ValueAxis.vue'
import { decimal } from '@/marks/format'

import { spreads, type Fit, type Measure } from './sweep'

const props = defineProps<{
  fits: Fit[]
  measures: Measure[]
  candidates: number[]
  suggested: number | null
  chosen: string
}>()
const emit = defineEmits<{ pick: [string] }>()
const width = ref(800)
const LEFT = 210
const PANEL = 96
const GAP = 16
const height = computed(() => props.measures.length * (PANEL + GAP) + 26)
const counts = computed(() => [...new Set(props.fits.map((fit) => fit.settings.topics ?? 0))].sort((a, b) => a - b))
const x = computed(() => scalePoint<number>(counts.value, [LEFT + 10, width.value - 20]).padding(0.3))
const at = (topics: number) => x.value(topics) ?? 0
const panels = computed(() =>
  props.measures.map((measure, index) => {
    const shown = props.fits.filter((fit) => typeof fit.measures[measure.key] === 'number')
    const value = (fit: Fit) => fit.measures[measure.key] ?? 0
    const [low, high] = extent(shown, value) as [number, number]
    const room = Math.max((high - low) * 0.12, 0.01)
    const top = index * (PANEL + GAP)
    const y = scaleLinear([low - room, high + room], [top + PANEL, top + 8])
    return {
      ...measure,
      top,
      y,
      line: spreads(props.fits, measure.key).map((row) => ({
        x: at(row.topics),
        y: y(row.mean),
        low: y(row.low),
        high: y(row.high),
      })),
      points: shown.map((fit) => ({
        key: fit.identity,
        x: at(fit.settings.topics ?? 0),
        y: y(value(fit)),
        said: `${fit.settings.topics} topics, seed ${fit.settings.seed}: ${measure.title.toLowerCase()} ${decimal(value(fit), 3)}${fit.verdict === 'level' ? '' : `, ${fit.verdict} at the end`}${fit.poorer ? `, ${decimal(fit.poorer.by)} ${fit.poorer.unit} below seed ${fit.poorer.seed}` : ''}`,
        hollow: fit.verdict !== 'level' || !!fit.poorer,
        colour: fit.identity === props.chosen ? 'var(--madder)' : 'var(--ink)',
        faint: fit.identity !== props.chosen,
        selected: fit.identity === props.chosen,
      })),
    }
  }),
)
const places = computed(() =>
  counts.value.map((topics) => ({
    at: at(topics),
    label: String(topics),
    strong: props.candidates.includes(topics),
  })),
)
</script>

<template>
  <Plot v-model:width="width" :height="height" label="Measures over the topic counts">
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
      <text x="0" :y="panel.top + 20" class="name">{{ panel.title }}</text>
      <foreignObject x="0" :y="panel.top + 26" :width="LEFT - 60" :height="PANEL - 26"
        ><p class="note">{{ panel.about }}</p></foreignObject
      >
      <line :x1="LEFT" :x2="width" :y1="panel.top + PANEL" :y2="panel.top + PANEL" class="grid" />
      <ValueAxis :scale="panel.y" :ticks="3" :left="LEFT" :right="width" :say="(tick) => decimal(tick)" bare />
      <BandLine :points="panel.line" colour="var(--woad)" />
      <Points :points="panel.points" :width="width" :height="PANEL" :top="panel.top" @pick="emit('pick', $event)" />
    </g>
    <BaseAxis :places="places" :y="height - 6" :room="28" />
  </Plot>
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
.candidate {
  fill: var(--lichen-wash);
}
.candidate.suggested {
  stroke: var(--lichen);
}
</style>
