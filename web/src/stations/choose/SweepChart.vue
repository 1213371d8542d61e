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

import { chanceBand, spreads, type Chance, type Fit, type Measure, type Provisional } from './sweep'

/** Small charts of measures over one axis of counts: a point is a fit, the band its spread over seeds; below it, what
 * the same words come to that were dealt out at random. */
const props = defineProps<{
  fits: Fit[]
  chance: Chance[]
  provisional: Provisional[]
  measures: Measure[]
  candidates: number[]
  suggested: number | null
  chosen: string
}>()
const emit = defineEmits<{ pick: [string] }>()
const width = ref(800)
const LEFT = 210
const PANEL = 92
const GAP = 14
const height = computed(() => props.measures.length * (PANEL + GAP) + 26)
const counts = computed(() =>
  [...new Set([...props.fits.map((fit) => fit.settings.topics), ...props.provisional.map((each) => each.topics)])].sort(
    (a, b) => a - b,
  ),
)
const x = computed(() => scalePoint<number>(counts.value, [LEFT + 10, width.value - 20]).padding(0.3))
const at = (topics: number) => x.value(topics) ?? 0
const known = (value: number | null | undefined): value is number => typeof value === 'number'
const said = (fit: Fit, measure: Measure) =>
  `${fit.settings.topics} topics, seed ${fit.settings.seed}: ${measure.title} ${decimal(fit.measures[measure.key], 3)}` +
  (fit.verdict === 'level' ? '' : `, ${fit.verdict} at the end`) +
  (fit.poorer ? `, ${decimal(fit.poorer.by)} ${fit.poorer.unit} below seed ${fit.poorer.seed}` : '')
const panels = computed(() =>
  props.measures.map((measure, index) => {
    const shown = props.fits.filter((fit) => known(fit.measures[measure.key]))
    const coming = props.provisional.filter((each) => known(each.measures[measure.key]))
    const band = chanceBand(props.chance, measure.key).filter((each) => counts.value.includes(each.topics))
    const values = [
      ...[...shown, ...coming].map((each) => each.measures[measure.key] as number),
      ...band.flatMap((each) => [each.low, each.high]),
    ]
    const [low, high] = extent(values) as [number, number]
    const room = Math.max((high - low) * 0.12, 0.005)
    const top = index * (PANEL + GAP)
    const y = scaleLinear([low - room, high + room], [top + PANEL, top + 8])
    const placed = (row: { topics: number; mean: number; low: number; high: number }) => ({
      x: at(row.topics),
      y: y(row.mean),
      low: y(row.low),
      high: y(row.high),
    })
    return {
      ...measure,
      top,
      y,
      line: spreads(props.fits, measure.key).map(placed),
      chance: band.map(placed),
      points: [
        ...shown.map((fit) => ({
          key: fit.identity,
          x: at(fit.settings.topics),
          y: y(fit.measures[measure.key] as number),
          said: said(fit, measure),
          hollow: fit.verdict !== 'level' || !!fit.poorer,
          colour: fit.identity === props.chosen ? 'var(--madder)' : 'var(--ink)',
          faint: fit.identity !== props.chosen,
          selected: fit.identity === props.chosen,
        })),
        ...coming.map((each) => ({
          key: `at work ${each.topics} ${each.seed}`,
          x: at(each.topics),
          y: y(each.measures[measure.key] as number),
          said: `${each.topics} topics, seed ${each.seed}, at work: ${measure.title} ${decimal(each.measures[measure.key], 3)} so far`,
          hollow: true,
          colour: 'var(--woad)',
        })),
      ],
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
const pick = (key: string) => !key.startsWith('at work') && emit('pick', key)
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
      <text x="0" :y="panel.top + 18" class="name">{{ panel.title }}</text>
      <foreignObject x="0" :y="panel.top + 23" :width="LEFT - 52" :height="PANEL - 20"
        ><p class="note" :title="`It does not see ${panel.misses}.`">{{ panel.rewards }}</p></foreignObject
      >
      <line :x1="LEFT" :x2="width" :y1="panel.top + PANEL" :y2="panel.top + PANEL" class="grid" />
      <ValueAxis :scale="panel.y" :ticks="3" :left="LEFT" :right="width" :say="(tick) => decimal(tick)" bare />
      <BandLine v-if="panel.chance.length" :points="panel.chance" colour="var(--madder)" dash="2 4" />
      <BandLine :points="panel.line" colour="var(--woad)" />
      <Points :points="panel.points" :width="width" :height="PANEL" :top="panel.top" @pick="pick" />
    </g>
    <BaseAxis :places="places" :y="height - 6" :room="28" />
  </Plot>
</template>

<style scoped>
.name {
  font-family: var(--heading);
  font-size: 14px;
  font-weight: 650;
  fill: var(--ink);
}
.note {
  margin: 0;
  font-size: 12px;
  color: var(--soft);
  line-height: 1.25;
}
.candidate {
  fill: var(--lichen-wash);
}
.candidate.suggested {
  stroke: var(--lichen);
}
</style>
