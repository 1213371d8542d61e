<script setup lang="ts">
import { scaleLog, scaleSymlog } from 'd3-scale'
import { computed, ref } from 'vue'

import ChartFrame from '@/marks/ChartFrame.vue'
import Plot from '@/marks/Plot.vue'
import { count, counted, percent } from '@/marks/format'

import { bins, type Spectrum } from './pruning'

/** How many terms are in how many documents, with a handle at either end of what stays. */
const props = defineProps<{ spectrum: Spectrum; of: number; least: number; most: number }>()
const emit = defineEmits<{ move: ['least' | 'most', number]; drop: [] }>()
const width = ref(800)
const HEIGHT = 190
const TOP = 34
const FOOT = 34
const LEFT = 64
const RIGHT = 14
const found = computed(() => bins(props.spectrum, props.of))
const x = computed(() => scaleLog([1, Math.max(2, props.of + 1)], [LEFT, width.value - RIGHT]).clamp(true))
const tallest = computed(() => Math.max(1, ...found.value.map((bin) => bin.terms)))
const y = computed(() => scaleSymlog([0, tallest.value], [HEIGHT - FOOT, TOP]).constant(1))
const ticks = computed(() => {
  const values = [0]
  for (let value = 1; value <= tallest.value; value *= 10) values.push(value)
  return values
})
const axis = computed(() => {
  const values = []
  for (let value = 1; value <= props.of; value *= 10)
    for (const step of [1, 2, 5]) if (value * step <= props.of) values.push(value * step)
  const room = 46
  return values.reduce<number[]>(
    (kept, value) => (kept.length && x.value(value) - x.value(kept[kept.length - 1]) < room ? kept : [...kept, value]),
    [],
  )
})
const inside = (bin: { from: number; to: number }) => bin.to - 1 >= props.least && bin.from <= props.most
const sparsity = (value: number) => {
  const share = 1 - value / Math.max(1, props.of)
  return percent(share, share < 1 ? Math.max(0, Math.ceil(-Math.log10(1 - share)) - 2) : 0)
}
const handles = computed(() => [
  {
    which: 'least' as const,
    value: props.least,
    at: x.value(Math.max(1, props.least)),
    name: 'In at least so many documents',
  },
  {
    which: 'most' as const,
    value: props.most,
    at: x.value(Math.max(1, props.most + 1)),
    name: 'In at most so many documents',
  },
])
const held = ref<'least' | 'most' | null>(null)
function to(which: 'least' | 'most', value: number) {
  const whole = Math.round(Math.min(props.of, Math.max(1, value)))
  emit('move', which, which === 'least' ? Math.min(whole, Math.max(1, props.most)) : Math.max(whole, props.least))
}
function grab(event: PointerEvent, which: 'least' | 'most') {
  held.value = which
  ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
}
function drag(event: PointerEvent) {
  const svg = (event.currentTarget as SVGElement).ownerSVGElement
  if (!held.value || !svg) return
  const value = x.value.invert(event.clientX - svg.getBoundingClientRect().left)
  to(held.value, held.value === 'least' ? value : value - 1)
}
function drop() {
  if (!held.value) return
  held.value = null
  emit('drop')
}
let resting: ReturnType<typeof setTimeout> | undefined
/** Arrow keys go document by document, page keys by a tenth of what it is; it is let go once they rest. */
function press(event: KeyboardEvent, which: 'least' | 'most', value: number) {
  const leap = Math.max(1, Math.round(value / 10))
  const by = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1, PageUp: leap, PageDown: -leap }[event.key]
  const end = { Home: 1, End: props.of }[event.key]
  if (by === undefined && end === undefined) return
  event.preventDefault()
  event.stopPropagation()
  to(which, end ?? value + (by ?? 0))
  clearTimeout(resting)
  resting = setTimeout(() => emit('drop'), 350)
}
const rows = computed(() => found.value.map((bin) => [bin.from, bin.to - 1, bin.terms]))
</script>

<template>
  <ChartFrame
    title="Documents a term is in"
    note="terms, both axes logarithmic; drag a handle, or use the arrow keys"
    name="document-frequency"
    :header="['from', 'to', 'terms']"
    :rows="rows">
    <Plot v-model:width="width" :height="HEIGHT" label="Terms by the documents they are in">
      <g>
        <line
          v-for="tick in ticks"
          :key="tick"
          :x1="LEFT"
          :x2="width - RIGHT"
          :y1="y(tick)"
          :y2="y(tick)"
          class="grid" />
        <text v-for="tick in ticks" :key="`t${tick}`" :x="LEFT - 6" :y="y(tick) + 4" text-anchor="end">{{
          count(tick)
        }}</text>
        <g v-for="bin in found" :key="bin.from">
          <title>
            {{ counted(bin.terms, 'term') }} in
            {{ bin.to - 1 > bin.from ? `${count(bin.from)} to ${count(bin.to - 1)}` : count(bin.from) }} documents
          </title>
          <rect
            :x="x(bin.from) + 0.5"
            :y="y(bin.terms)"
            :width="Math.max(1, x(bin.to) - x(bin.from) - 1)"
            :height="Math.max(0, HEIGHT - FOOT - y(bin.terms))"
            :class="inside(bin) ? 'kept' : 'left'" />
        </g>
        <rect
          :x="LEFT"
          :y="TOP - 8"
          :width="Math.max(0, handles[0].at - LEFT)"
          :height="HEIGHT - FOOT - TOP + 8"
          class="away" />
        <rect
          :x="handles[1].at"
          :y="TOP - 8"
          :width="Math.max(0, width - RIGHT - handles[1].at)"
          :height="HEIGHT - FOOT - TOP + 8"
          class="away" />
        <g v-for="value in axis" :key="`a${value}`">
          <text :x="x(value)" :y="HEIGHT - 18" text-anchor="middle">{{ count(value) }}</text>
          <text :x="x(value)" :y="HEIGHT - 4" text-anchor="middle" class="absent">{{ sparsity(value) }}</text>
        </g>
        <text :x="0" :y="HEIGHT - 18">in</text>
        <text :x="0" :y="HEIGHT - 4">absent</text>
        <g
          v-for="handle in handles"
          :key="handle.which"
          class="handle"
          :class="{ held: held === handle.which }"
          role="slider"
          tabindex="0"
          :aria-label="handle.name"
          :aria-valuenow="handle.value"
          aria-valuemin="1"
          :aria-valuemax="of"
          :aria-valuetext="counted(handle.value, 'document')"
          @pointerdown="grab($event, handle.which)"
          @pointermove="drag"
          @pointerup="drop"
          @pointercancel="drop"
          @keydown="press($event, handle.which, handle.value)">
          <rect :x="handle.at - 12" :y="0" width="24" :height="HEIGHT - FOOT + 6" class="reach" />
          <line :x1="handle.at" :x2="handle.at" :y1="TOP - 12" :y2="HEIGHT - FOOT + 5" />
          <circle :cx="handle.at" :cy="TOP - 12" r="5" />
          <text
            :x="handle.which === 'least' ? Math.max(handle.at, LEFT + 8) : Math.min(handle.at, width - RIGHT)"
            y="13"
            :text-anchor="handle.at < width / 3 ? 'start' : handle.at > (2 * width) / 3 ? 'end' : 'middle'"
            class="value">
            {{ handle.which === 'least' ? 'at least' : 'at most' }} {{ count(handle.value) }}
          </text>
        </g>
      </g>
    </Plot>
  </ChartFrame>
</template>

<style scoped>
.kept {
  fill: var(--woad);
}
.left {
  fill: var(--soft);
  opacity: 0.45;
}
.away {
  fill: var(--paper);
  opacity: 0.45;
  pointer-events: none;
}
.handle {
  cursor: ew-resize;
  touch-action: none;
}
.reach {
  fill: transparent;
}
.handle line {
  stroke: var(--madder);
  stroke-width: 2;
}
.handle circle {
  fill: var(--madder);
}
.handle:focus-visible {
  outline: none;
}
.handle:focus-visible circle,
.held circle {
  stroke: var(--ink);
  stroke-width: 2.5;
}
figure svg .value {
  font-size: 12.5px;
  font-weight: 700;
  fill: var(--ink);
}
</style>
