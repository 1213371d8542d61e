<script setup lang="ts">
import { extent } from 'd3-array'
import { scaleLinear } from 'd3-scale'
import { computed, ref } from 'vue'

import type { Schemas } from '@/api/client'
import BandLine from '@/marks/BandLine.vue'
import BaseAxis from '@/marks/BaseAxis.vue'
import ChartFrame from '@/marks/ChartFrame.vue'
import Plot from '@/marks/Plot.vue'
import ValueAxis from '@/marks/ValueAxis.vue'
import { count, decimal, percent } from '@/marks/format'

import { heldOut } from './forming'

/** Rows of the iteration and of what the method watches, named by it; the first two are drawn, and below them what
 * is of documents held out, where there are any. */
const props = defineProps<{ trace: number[][]; watches: Schemas['Watched'][] }>()
const titles = computed(() => props.watches.slice(0, props.trace[0].length - 1).map((each) => each.title))
const say = (at: number, value: number) => (props.watches[at]?.unit === 'share' ? percent(value, 0) : decimal(value))
const width = ref(400)
const HEIGHT = 240
const LOW = 90
const LEFT = 52
const RIGHT = 44
/** The column that is of documents held out; 0 where there is none. */
const held = computed(() => heldOut(props.trace, props.watches))
const high = computed(() => HEIGHT + (held.value ? LOW : 0))
const right = computed(() => width.value - RIGHT)
const x = computed(() => scaleLinear([0, Math.max(...props.trace.map((row) => row[0]))], [LEFT, right.value]))
const reach = (column: number, top: number, bottom: number) =>
  scaleLinear(extent(props.trace, (row) => row[column]) as [number, number], [bottom, top]).nice()
const first = computed(() => reach(1, 22, HEIGHT - 24))
const second = computed(() => scaleLinear([0, Math.max(0.05, ...props.trace.map((row) => row[2]))], [HEIGHT - 24, 22]))
const third = computed(() => reach(held.value, HEIGHT + 20, high.value - 24))
const through = (column: number, y: (value: number) => number) =>
  props.trace.map((row) => ({ x: x.value(row[0]), y: y(row[column]) }))
const places = computed(() => x.value.ticks(5).map((tick) => ({ at: x.value(tick), label: count(tick) })))
</script>

<template>
  <ChartFrame
    title="Trace"
    :note="titles.slice(0, 2).join('; dashed: ')"
    name="trace"
    :header="['iteration', ...titles]"
    :rows="trace">
    <Plot v-model:width="width" :height="high" label="Trace of the fit">
      <ValueAxis :scale="first" :ticks="5" :left="LEFT" :right="right" :say="(tick) => say(0, tick)" />
      <ValueAxis
        :scale="second"
        :ticks="4"
        :left="LEFT"
        :right="right"
        :say="(tick) => say(1, tick)"
        side="right"
        bare />
      <BandLine :points="through(2, second)" colour="var(--weld)" dash="5 3" />
      <BandLine :points="through(1, first)" colour="var(--woad)" />
      <template v-if="held">
        <text :x="LEFT" :y="HEIGHT + 8" class="held">{{ titles[held - 1] }}</text>
        <ValueAxis :scale="third" :ticks="3" :left="LEFT" :right="right" :say="(tick) => say(held - 1, tick)" />
        <BandLine :points="through(held, third)" colour="var(--lichen)" />
      </template>
      <BaseAxis :places="places" :y="high - 6" />
    </Plot>
  </ChartFrame>
</template>

<style scoped>
.held {
  font-size: 12px;
  fill: var(--soft);
}
</style>
