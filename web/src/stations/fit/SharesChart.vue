<script setup lang="ts">
import { scaleBand, scaleLinear } from 'd3-scale'
import { computed, ref } from 'vue'

import type { Schemas } from '@/api/client'
import BandLine from '@/marks/BandLine.vue'
import BaseAxis from '@/marks/BaseAxis.vue'
import ChartFrame from '@/marks/ChartFrame.vue'
import Mark from '@/marks/Mark.vue'
import Plot from '@/marks/Plot.vue'
import ValueAxis from '@/marks/ValueAxis.vue'
import { DASHES, colour, patternId } from '@/marks/dyes'
import { counted, percent } from '@/marks/format'

/** Documents by the share that a topic has of them, those without any aside; lines are those of groups. */
const props = defineProps<{ spread: Schemas['SharesSpread']; topic: number; dye: number }>()
const by = defineModel<string>('by', { required: true })
const width = ref(380)
const HEIGHT = 208
const FOOT = 22
const LEFT = 46
/** Until the answer on another topic is there, what is known of all of them. */
const whole = computed(() => props.spread.topics[props.topic] ?? props.spread.chosen.whole)
const groups = computed(() => (props.spread.chosen.topic === props.topic && by.value ? props.spread.chosen.groups : []))
const ranges = computed(() =>
  whole.value.counts.slice(1).map((n, at) => ({
    n,
    from: props.spread.edges[at + 1],
    to: props.spread.edges[at + 2],
    label: `${Math.round(100 * props.spread.edges[at + 1])}`,
  })),
)
const said = (at: number) => `${ranges.value[at].label} to ${percent(ranges.value[at].to, 0)}`
const part = (n: number, of: number) => n / Math.max(1, of)
const most = computed(() =>
  Math.max(
    0.001,
    ...[whole.value, ...groups.value].flatMap((each) => each.counts.slice(1).map((n) => part(n, each.documents))),
  ),
)
const x = computed(() => scaleBand(ranges.value.keys(), [LEFT, width.value]).padding(0.14))
const y = computed(() => scaleLinear([0, most.value], [HEIGHT - FOOT, 8]))
const middle = (at: number) => (x.value(at) ?? 0) + x.value.bandwidth() / 2
const places = computed(() => ranges.value.map((each, at) => ({ at: middle(at), label: each.label })))
const line = (each: Schemas['Spread']) =>
  each.counts.slice(1).map((n, at) => ({ x: middle(at), y: y.value(part(n, each.documents)) }))
const rows = computed(() =>
  ranges.value.map((each, at) => [said(at), each.n, ...groups.value.map((group) => group.counts[at + 1])]),
)
const LINES = ['var(--ink)', 'var(--madder)', 'var(--woad)', 'var(--lichen)', 'var(--weld)', 'var(--soft)']
</script>

<template>
  <ChartFrame
    title="Its shares"
    note="in %"
    :name="`topic-${topic + 1}-shares`"
    :header="['share', 'documents', ...groups.map((each) => each.name)]"
    :rows="rows">
    <Plot v-model:width="width" :height="HEIGHT" label="Documents by the share that the topic has of them">
      <ValueAxis :scale="y" :ticks="4" :left="LEFT - 2" :right="width" :say="(tick) => percent(tick, 0)" />
      <Mark
        v-for="(each, at) in ranges"
        :key="at"
        v-slot="{ selected }"
        :said="`${said(at)}: ${counted(each.n, 'document')}`"
        :evidence="{ share_of: topic, share_from: each.from, share_to: each.to }">
        <rect :x="x(at)" y="0" :width="x.step()" :height="HEIGHT - FOOT" class="target" />
        <rect
          :x="x(at)"
          :y="y(part(each.n, whole.documents))"
          :width="x.bandwidth()"
          :height="HEIGHT - FOOT - y(part(each.n, whole.documents))"
          :style="{ fill: colour(dye), stroke: selected ? 'var(--ink)' : 'none' }" />
        <rect
          :x="x(at)"
          :y="y(part(each.n, whole.documents))"
          :width="x.bandwidth()"
          :height="HEIGHT - FOOT - y(part(each.n, whole.documents))"
          :fill="`url(#${patternId(dye)})`" />
      </Mark>
      <BandLine
        v-for="(each, at) in groups"
        :key="each.name"
        :points="line(each)"
        :colour="LINES[at]"
        :dash="DASHES[at]" />
      <BaseAxis :places="places" :y="HEIGHT - 5" :right="width" />
    </Plot>
    <p class="small says">{{ spread.chosen.topic === topic ? spread.chosen.says : '' }}</p>
    <div class="row wrap small">
      <label
        >by
        <select v-model="by" aria-label="Overlay the groups of">
          <option value="">no group</option>
          <option v-for="field in spread.fields" :key="field" :value="field">{{ field }}</option>
        </select></label
      >
      <span v-for="(each, at) in groups" :key="each.name" class="key">
        <svg width="26" height="8" aria-hidden="true">
          <path d="M0 4H26" :style="{ stroke: LINES[at] }" :stroke-dasharray="DASHES[at]" />
        </svg>
        {{ each.name }} <small class="soft">n {{ each.documents }}</small>
      </span>
    </div>
  </ChartFrame>
</template>

<style scoped>
.says {
  margin: 0.3rem 0;
}
.key {
  display: inline-flex;
  gap: 0.35rem;
  align-items: center;
}
.key path {
  stroke-width: 2.2;
}
</style>
