<script setup lang="ts">
import { scaleLinear } from 'd3-scale'
import { computed, ref } from 'vue'

import type { Schemas } from '@/api/client'
import type { Said } from '@/api/holds'
import type { MovementTable } from '@/api/prevalence'
import { useTopics } from '@/api/topics'
import PinStatement from '@/frame/PinStatement.vue'
import { useAddress } from '@/frame/address'
import { useEvidence } from '@/frame/evidence'
import BandLine from '@/marks/BandLine.vue'
import Plot from '@/marks/Plot.vue'
import Swatch from '@/marks/Swatch.vue'
import { colour, dashOf } from '@/marks/dyes'
import { percent } from '@/marks/format'

import CopySentence from './CopySentence.vue'
import { useBreakdown } from './breakdown'
import { chance, points, stretch } from './prevalence'

/** One topic of the overview: its line with what changed, and its groups on a thread with the one that differs. */
const props = defineProps<{
  moving: Schemas['MovingTopic']
  found: MovementTable
  top: number
  timed: boolean
  kind: 'over_time' | 'between'
}>()
type Contrast = Schemas['Contrast']
const { label, dye } = useTopics()
const { select, topic: selected } = useEvidence()
const { set } = useAddress()
const { byGroup } = useBreakdown()
const HIGH = 38
const width = ref(150)
const strip = ref(120)
const topic = computed(() => props.moving.topic)
const x = computed(() => scaleLinear([0, Math.max(1, props.moving.line.length)], [2, width.value - 2]))
const y = computed(() => scaleLinear([0, props.top], [HIGH - 3, 3]).clamp(true))
const line = computed(() =>
  props.moving.line.map((cell, at) => {
    if (!cell) return null
    const band = cell.low !== null && cell.high !== null ? { low: y.value(cell.low), high: y.value(cell.high) } : {}
    return { x: x.value(at + 0.5), y: y.value(cell.mean), ...band }
  }),
)
const moves = computed(() => props.moving.over_time)
const differs = computed(() => props.moving.between)
/** Where the contrast lies: all that comes after a boundary, or one period. */
const marked = computed(() => {
  const contrast = moves.value?.sure ? moves.value.contrast : undefined
  if (!contrast) return null
  const from = x.value(contrast.place)
  return { from, to: contrast.lasting ? width.value - 2 : x.value(contrast.place + 1), ...contrast }
})
const groups = computed(() =>
  props.found.groups.map((each) => ({
    name: each.group,
    share: each.shares[topic.value].mean,
    sure: each.each[topic.value]?.sure ?? false,
  })),
)
const far = computed(() => Math.max(0.01, ...groups.value.map((each) => each.share)))
const across = computed(() => scaleLinear([0, far.value], [5, strip.value - 5]))
const could = computed(() => {
  const size = props.moving.could_show[props.kind === 'over_time' ? 'lasting' : 'group']
  if (size === null) return 'too little here to promise anything'
  return size === undefined ? '' : `${(100 * size).toFixed(1)} points would have shown`
})
/** The periods of a contrast: from a boundary to the last, or one. */
const named = (contrast: Contrast) => {
  const names = props.found.periods
  return contrast.lasting ? stretch(names[contrast.place], names.at(-1)!) : names[contrast.place]
}
function show() {
  const group = props.kind === 'between' && differs.value?.sure ? differs.value.where : undefined
  const at = props.kind === 'over_time' && moves.value?.sure ? moves.value.contrast : undefined
  select({
    topic: topic.value,
    ...(group && props.found.group ? { field: props.found.group, value: group } : {}),
    ...(at ? { at: named(at) } : {}),
  })
}
/** The two sides of the contrast that is named: a group, or a time, against the time before or all others. */
const sides = computed(() => {
  if (props.kind === 'between')
    return differs.value ? { value: differs.value.where, contrast: differs.value.contrast } : undefined
  const contrast = moves.value?.contrast
  if (!contrast) return undefined
  const names = props.found.periods
  const before = contrast.lasting ? stretch(names[0], names[contrast.place - 1] ?? names[0]) : undefined
  return { at: named(contrast), before, contrast }
})
/** The same as a statement: who holds more comes first, but one alone may hold less than all others. */
const said = computed((): Said | undefined => {
  if (!sides.value) return undefined
  const { value, at, before, contrast } = sides.value
  const less = contrast.difference < 0
  const both = [{ value, at }, ...(before ? [{ at: before }] : [])]
  return {
    by: byGroup.value,
    sides: before && less ? both.reverse() : both,
    less: !before && less,
    topic: topic.value,
  } as Said
})
/** The contrast that is named, side by side with all else. */
function beside() {
  if (!sides.value) return
  const { value = '', at = '', before = '' } = sides.value
  set({ part: 'two', av: value, a: at, bv: '', b: before }, true)
}
const open = (part: string) => set({ part, t: [String(topic.value)] }, true)
</script>

<template>
  <div class="moving" :class="{ selected: selected === topic }">
    <button class="plain name" :title="`${label(topic)}: its documents`" @click="show">
      <Swatch :dye="dye(topic)" /><span class="label">{{ label(topic) }}</span>
      <span class="soft small numbers">{{ percent(moving.share.mean) }}</span>
    </button>
    <template v-if="timed">
      <button
        class="plain thread"
        :aria-label="`${label(topic)} over time`"
        title="Open it over time"
        @click="open('time')">
        <Plot v-model:width="width" :height="HIGH" :label="`${label(topic)} over time`">
          <rect v-if="marked" :x="marked.from" :width="marked.to - marked.from" y="0" :height="HIGH" class="marked" />
          <line x1="0" :x2="width" :y1="HIGH - 3" :y2="HIGH - 3" class="grid" />
          <BandLine :points="line" :colour="colour(dye(topic))" :dash="dashOf(dye(topic))" />
          <g v-if="marked">
            <line
              v-if="marked.lasting"
              x1="2"
              :x2="marked.from"
              :y1="y(marked.other)"
              :y2="y(marked.other)"
              class="level" />
            <line :x1="marked.from" :x2="marked.to" :y1="y(marked.one)" :y2="y(marked.one)" class="level" />
          </g>
        </Plot>
      </button>
      <span class="said small">
        <template v-if="moves?.sure"
          ><b>{{ moves.kind }}</b> {{ moves.where }}: {{ percent(moves.contrast.other) }} →
          {{ percent(moves.contrast.one) }}
          <span class="soft"
            >{{ points(moves.contrast.difference) }}, {{ chance(moves.contrast.adjusted) }}</span
          ></template
        >
        <span v-else-if="moves" class="soft"
          >{{ chance(moves.contrast.adjusted) }}{{ kind === 'over_time' && could ? `; ${could}` : '' }}</span
        >
        <span v-else-if="found.made" class="soft">too few units to tell</span>
      </span>
    </template>
    <template v-if="found.group">
      <button
        class="plain thread"
        :aria-label="`${label(topic)} between ${found.group}`"
        title="Open its groups"
        @click="open('groups')">
        <Plot v-model:width="strip" :height="HIGH" :label="`${label(topic)} by ${found.group}`">
          <line x1="2" :x2="strip - 2" :y1="HIGH / 2" :y2="HIGH / 2" class="grid" />
          <g v-for="each in groups" :key="each.name">
            <title>{{ each.name }}: {{ percent(each.share) }}</title>
            <circle
              :cx="across(each.share)"
              :cy="HIGH / 2"
              :r="each.sure ? 5.5 : 4"
              :class="{ sure: each.sure }"
              class="knot"
              :style="{ stroke: colour(dye(topic)), fill: each.sure ? colour(dye(topic)) : undefined }" />
          </g>
        </Plot>
      </button>
      <span class="said small">
        <template v-if="differs?.sure"
          ><b>{{ differs.kind }}</b> in {{ differs.where }}: {{ percent(differs.contrast.one) }}
          <span class="soft"
            >against {{ percent(differs.contrast.other) }}, {{ chance(differs.contrast.adjusted) }}</span
          ></template
        >
        <span v-else-if="differs" class="soft"
          >{{ chance(differs.contrast.adjusted) }}{{ kind === 'between' && could ? `; ${could}` : '' }}</span
        >
        <span v-else-if="found.made" class="soft">too few units to tell</span>
      </span>
    </template>
    <p v-if="selected === topic && moving.report.length" class="report">
      <span class="book">{{ moving.report.join(' ') }}</span>
      <CopySentence :sentence="moving.report.join(' ')" />
      <PinStatement v-if="said" :said="said" />
      <button v-if="kind === 'between' ? differs : moves" class="plain link small" @click="beside">
        side by side, with its working
      </button>
    </p>
  </div>
</template>

<style scoped>
.moving {
  display: grid;
  grid-template-columns: var(--columns);
  gap: 0 0.9rem;
  align-items: center;
  border-bottom: 1px solid var(--hairline);
  min-height: 44px;
}
.moving:hover,
.selected {
  background: var(--woad-wash);
}
.name {
  display: grid;
  grid-template-columns: max-content minmax(0, 1fr);
  gap: 0 0.5rem;
  align-items: center;
  min-height: 24px;
}
.name .numbers {
  grid-column: 2;
}
.label {
  overflow: hidden;
  text-overflow: ellipsis;
  display: -webkit-box;
  -webkit-line-clamp: 2;
  -webkit-box-orient: vertical;
  line-height: 1.2;
}
.thread {
  min-width: 0;
}
.said {
  line-height: 1.25;
}
.report {
  grid-column: 1 / -1;
  margin: 0.1rem 0 0.4rem 1.9rem;
}
.report .link {
  min-height: 24px;
  margin-left: 0.6rem;
}
.marked {
  fill: var(--weld-wash);
}
.level {
  stroke: var(--ink);
  stroke-width: 1.2;
  stroke-dasharray: 1.5 2.5;
}
.knot {
  fill: var(--paper);
  stroke-width: 1.8;
}
</style>
