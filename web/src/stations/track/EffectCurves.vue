<script setup lang="ts">
import { scaleLinear, scaleUtc } from 'd3-scale'
import { computed, ref } from 'vue'

import type { RegressionTable } from '@/api/regression'
import { useTopics } from '@/api/topics'
import BandLine from '@/marks/BandLine.vue'
import BaseAxis from '@/marks/BaseAxis.vue'
import ChartFrame from '@/marks/ChartFrame.vue'
import Mark from '@/marks/Mark.vue'
import Plot from '@/marks/Plot.vue'
import ValueAxis from '@/marks/ValueAxis.vue'
import { colour } from '@/marks/dyes'
import { counted, percent } from '@/marks/format'

import { TIME, interval } from './regression'

/** What is foretold of a topic over the time, for each value of the other term where there is one. */
const props = defineProps<{
  found: RegressionTable
  effect: RegressionTable['effects'][number]
  topic: number
  begins: number
}>()
const emit = defineEmits<{ pick: [number] }>()
const { label, dye } = useTopics()
const HIGH = 110
const FOOT = 18
const LEFT = 42
const width = ref(500)
const of = computed(() => props.effect.terms.indexOf(TIME))
const time = computed(() => props.found.terms.find((each) => each.name === TIME)!)
const parts = computed(() => {
  const points = props.effect.points.map((each, at) => ({
    ...each,
    at,
    share: each.shares[0],
    day: each.given[of.value],
  }))
  const names = [...new Set(points.map((each) => each.given[1 - of.value] ?? ''))]
  return names.map((name) => ({ name, points: points.filter((each) => (each.given[1 - of.value] ?? '') === name) }))
})
const top = computed(() =>
  Math.max(0.005, ...props.effect.points.map((each) => each.shares[0]?.high ?? each.shares[0]?.mean ?? 0)),
)
const DAY = 86_400_000
const days = computed(() => time.value.values.map((each) => new Date(each * DAY)))
const x = computed(() => scaleUtc([days.value[0], days.value[days.value.length - 1]], [LEFT, width.value - 12]))
const y = computed(() => scaleLinear([0, top.value], [HIGH, 8]))
const placeOf = (day: string) => x.value(days.value[time.value.labels.indexOf(day)])
const format = computed(() => x.value.tickFormat(4))
const places = computed(() =>
  x.value.ticks(parts.value.length > 1 ? 4 : 7).map((tick) => ({ at: x.value(tick), label: format.value(tick) })),
)
const line = (points: (typeof parts.value)[number]['points']) =>
  points.map((each) =>
    each.share
      ? {
          x: placeOf(each.day),
          y: y.value(each.share.mean),
          ...(each.share.low === null || each.share.high === null
            ? {}
            : { low: y.value(each.share.low), high: y.value(each.share.high) }),
        }
      : null,
  )
function evidence(name: string) {
  const term = props.found.terms.find((each) => each.name === props.effect.terms[1 - of.value])
  const known = term?.kind === 'factor' && name && name !== 'all other values'
  return known ? { topic: props.topic, field: term.name, value: name } : { topic: props.topic }
}
const rows = computed(() =>
  props.effect.points.map((each) => [
    ...each.given,
    each.shares[0]?.mean ?? null,
    each.shares[0]?.low ?? null,
    each.shares[0]?.high ?? null,
    each.documents,
  ]),
)
</script>

<template>
  <ChartFrame
    title=""
    :plain="parts.length > 1"
    :name="`foretold-${effect.terms.join('-')}`"
    :header="[...effect.terms, 'foretold', 'low', 'high', 'documents near']"
    :rows="rows">
    <div class="panels" :class="{ many: parts.length > 1 }">
      <div v-for="part in parts" :key="part.name">
        <span v-if="part.name" class="small name">{{ part.name }}</span>
        <Plot v-model:width="width" :height="HIGH + FOOT" :label="`Foretold over the time ${part.name}`">
          <ValueAxis :scale="y" :ticks="3" :left="LEFT" :right="width" :say="(value) => percent(value, 0)" />
          <BaseAxis :places="places" :y="HIGH + 14" :grid="0" />
          <BandLine :points="line(part.points)" :colour="colour(dye(topic))" smooth />
          <Mark
            v-for="each in part.points.filter((one) => one.share)"
            :key="each.at"
            :said="`${label(topic)}, ${part.name} ${each.day}: ${percent(each.share!.mean)} ${interval(each.share!)}, ${counted(each.documents, 'document')} near`"
            :evidence="evidence(part.name)"
            @pick="emit('pick', begins + each.at)">
            <rect :x="placeOf(each.day) - 9" y="0" width="18" :height="HIGH" class="target" />
            <circle
              :cx="placeOf(each.day)"
              :cy="y(each.share!.mean)"
              :r="each.documents ? 3 : 1.5"
              :style="{ fill: colour(dye(topic)) }" />
          </Mark>
        </Plot>
      </div>
    </div>
  </ChartFrame>
</template>

<style scoped>
.panels.many {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(13rem, 1fr));
  gap: 0.4rem 0.9rem;
}
.name {
  font-family: var(--heading);
  font-weight: 650;
}
</style>
