<script setup lang="ts">
import { scaleLinear } from 'd3-scale'
import { computed, ref } from 'vue'

import type { RegressionTable } from '@/api/regression'
import { useTopics } from '@/api/topics'
import BaseAxis from '@/marks/BaseAxis.vue'
import ChartFrame from '@/marks/ChartFrame.vue'
import Mark from '@/marks/Mark.vue'
import Plot from '@/marks/Plot.vue'
import { colour } from '@/marks/dyes'
import { counted, percent } from '@/marks/format'

import { interval } from './regression'

/** What is foretold of a topic at each value, with intervals. */
const props = defineProps<{
  found: RegressionTable
  effect: RegressionTable['effects'][number]
  topic: number
  begins: number
}>()
const emit = defineEmits<{ pick: [number] }>()
const { label, dye } = useTopics()
const width = ref(500)
const ROW = 22
const LEFT = 150
const shown = computed(() =>
  props.effect.points.map((each, at) => ({ ...each, at, share: each.shares[0], name: each.given.join(', ') })),
)
const top = computed(() => Math.max(0.005, ...shown.value.map((each) => each.share?.high ?? each.share?.mean ?? 0)))
const x = computed(() => scaleLinear([0, top.value], [LEFT, width.value - 60]))
const places = computed(() => x.value.ticks(5).map((tick) => ({ at: x.value(tick), label: percent(tick, 0) })))
const foot = computed(() => shown.value.length * ROW)
const cut = (text: string) => (text.length > 22 ? `${text.slice(0, 21)}…` : text)
/** The documents of a value; two fields at once can't be asked for, so that a pair shows those of its first. */
function evidence(given: string[]) {
  const term = props.found.terms.find((each) => each.name === props.effect.terms[0])
  const known = term?.kind === 'factor' && given[0] !== 'all other values'
  return known ? { topic: props.topic, field: term.name, value: given[0] } : { topic: props.topic }
}
const said = (each: (typeof shown.value)[number]) =>
  each.share
    ? `${label(props.topic)}, ${each.name}: ${percent(each.share.mean)} ${interval(each.share)}, ${counted(each.documents, 'document')}`
    : `${each.name}: can’t be told`
const rows = computed(() =>
  shown.value.map((each) => [
    each.name,
    each.share?.mean ?? null,
    each.share?.low ?? null,
    each.share?.high ?? null,
    each.documents,
  ]),
)
</script>

<template>
  <ChartFrame
    title=""
    :name="`foretold-${effect.terms.join('-')}`"
    :header="[effect.terms.join(' × '), 'foretold', 'low', 'high', 'documents']"
    :rows="rows">
    <Plot v-model:width="width" :height="foot + 18" :label="`Foretold by ${effect.terms.join(' × ')}`">
      <BaseAxis :places="places" :y="foot + 13" :grid="0" />
      <Mark
        v-for="each in shown"
        :key="each.at"
        :said="said(each)"
        :evidence="evidence(each.given)"
        @pick="emit('pick', begins + each.at)">
        <rect x="0" :y="each.at * ROW" :width="width" :height="ROW" class="target" />
        <text x="0" :y="each.at * ROW + 15" :class="{ faint: each.documents < 20 }">{{ cut(each.name) }}</text>
        <template v-if="each.share">
          <line
            v-if="each.share.low !== null"
            :x1="x(each.share.low ?? each.share.mean)"
            :x2="x(each.share.high ?? each.share.mean)"
            :y1="each.at * ROW + 11"
            :y2="each.at * ROW + 11"
            class="whisker" />
          <circle
            :cx="x(each.share.mean)"
            :cy="each.at * ROW + 11"
            r="4.5"
            :style="{ fill: colour(dye(topic)) }"
            :class="{ faint: each.documents < 20 }" />
          <text :x="x(each.share.high ?? each.share.mean) + 7" :y="each.at * ROW + 15">{{
            percent(each.share.mean)
          }}</text>
        </template>
        <text v-else :x="LEFT" :y="each.at * ROW + 15">can’t be told</text>
      </Mark>
    </Plot>
  </ChartFrame>
</template>

<style scoped>
text {
  font-size: 12px;
  fill: var(--ink);
}
.faint {
  opacity: 0.5;
}
.whisker {
  stroke: var(--soft);
  stroke-width: 1.6;
}
</style>
