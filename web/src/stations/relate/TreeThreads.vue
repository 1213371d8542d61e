<script setup lang="ts">
import { scaleLinear } from 'd3-scale'
import { computed, ref } from 'vue'

import type { Schemas } from '@/api/client'
import BaseAxis from '@/marks/BaseAxis.vue'
import Mark from '@/marks/Mark.vue'
import Plot from '@/marks/Plot.vue'
import { colour, patternId } from '@/marks/dyes'
import { count, counted, decimal, percent } from '@/marks/format'

import { clustersAt, heightOf, heightOfCut, picture, type Tree } from './tree'

/** Threads that run together: items on the left, the farther right two threads meet, the farther apart they were. */
const props = defineProps<{
  tree: Tree
  number: number
  clusters: Schemas['ClusterRow'][]
  labels: string[]
  seen: number[]
  opened: Set<number>
  high: number
  stands: number
}>()
const emit = defineEmits<{ cut: [number]; toggle: [number] }>()
const width = ref(800)
const LABEL = 268
const HEAD = 26
/** Threads lie side by side until they are so near to where they meet. */
const BEND = 64
const HIGH = { folded: 27, open: 17 }
const drawn = computed(() => picture(props.tree, props.number, props.opened))
const tops = computed(() => {
  let at = HEAD
  return drawn.value.rows.map((row) => {
    const high = props.high * (row.folded || !props.opened.size ? HIGH.folded : HIGH.open)
    at += high
    return at - high / 2
  })
})
const height = computed(() => (tops.value.at(-1) ?? 0) + HIGH.folded + 8)
const highest = computed(() => props.tree.heights.at(-1) ?? 1)
const x = computed(() => scaleLinear([0, highest.value * 1.03], [LABEL, width.value - 10]))
/** Between two rows a thread lies in between. */
const y = (row: number) => {
  const low = Math.floor(row)
  const next = tops.value[Math.min(low + 1, tops.value.length - 1)]
  return tops.value[low] + (row - low) * (next - tops.value[low])
}
const thick = (items: number) => Math.min(7, 1.1 + 0.55 * Math.sqrt(items))
const threads = computed(() =>
  drawn.value.threads.map((each) => {
    const [from, to] = [x.value(each.from[0]), x.value(each.to[0])]
    const bend = Math.min(to - from, BEND)
    const [above, below] = [y(each.from[1]), y(each.to[1])]
    return {
      ...each,
      path: `M${from} ${above}H${to - bend}C${to - bend * 0.35} ${above} ${to - bend * 0.65} ${below} ${to} ${below}`,
      stroke: each.cluster < 0 ? 'var(--soft)' : colour(each.cluster),
    }
  }),
)
const rows = computed(() =>
  drawn.value.rows.map((row, at) => {
    const cluster = props.clusters[row.cluster]
    const name = row.folded ? (cluster?.heads.join(' ') ?? '…') : props.labels[row.node]
    const back = row.folded ? cluster?.recurrence : undefined
    const size = row.folded ? (cluster?.size ?? 0) : props.seen[row.node]
    return {
      ...row,
      name,
      back,
      size,
      top: tops.value[at],
      begins: x.value(heightOf(props.tree, row.node)),
      said: row.folded
        ? `${name}: ${counted(size, 'item')}, comes back ${back == null ? 'unknown' : decimal(back)}, joined at ${decimal(heightOf(props.tree, row.node))}`
        : `${name}: ${counted(size, 'time')}`,
    }
  }),
)
/** Fibres of what is folded, spun into its thread. */
const fibres = (row: { begins: number; top: number; size: number }) => {
  const many = Math.min(9, Math.max(2, Math.round(Math.sqrt(row.size) * 1.6)))
  return Array.from({ length: many }, (_, at) => {
    const off = (at / (many - 1) - 0.5) * 19 * props.high
    const middle = (LABEL + row.begins) / 2
    return `M${LABEL} ${row.top + off}C${middle} ${row.top + off} ${middle} ${row.top} ${row.begins} ${row.top}`
  }).join('')
}
const cutHeight = computed(() => heightOfCut(props.tree, props.number))
const ticks = computed(() => x.value.ticks(5).map((tick) => ({ at: x.value(tick), label: String(tick) })))
const dragging = ref(false)
function drag(event: PointerEvent) {
  const needle = event.currentTarget as SVGElement
  const box = needle.ownerSVGElement!.getBoundingClientRect()
  needle.setPointerCapture(event.pointerId)
  dragging.value = true
  needle.onpointermove = (move) => {
    const at = clustersAt(props.tree, x.value.invert(move.clientX - box.left))
    if (at !== props.number) emit('cut', at)
  }
  needle.onpointerup = () => {
    needle.onpointermove = null
    dragging.value = false
  }
}
const short = (name: string) => (name.length > 27 ? `${name.slice(0, 26)}…` : name)
</script>

<template>
  <Plot v-model:width="width" :height="height" label="Tree: threads that run together">
    <BaseAxis :places="ticks" :y="12" :room="50" :grid="height - 4" />
    <path
      v-for="thread in threads"
      :key="thread.node"
      :d="thread.path"
      class="thread"
      :class="{ above: thread.cluster < 0 }"
      :style="{ stroke: thread.stroke, strokeWidth: `${thick(thread.items)}px` }" />
    <Mark
      v-for="row in rows"
      :key="row.node"
      :said="row.said"
      :evidence="{ branch: row.node }"
      @dblclick="row.folded && emit('toggle', row.node)">
      <rect
        x="0"
        :y="row.top - high * (row.folded ? 13 : 8)"
        :width="width"
        :height="high * (row.folded ? 26 : 16)"
        class="target" />
      <template v-if="row.folded">
        <rect x="0" :y="row.top - 8" width="16" height="16" rx="3" :fill="`url(#${patternId(row.cluster)})`" />
        <text x="23" :y="row.top + 5" class="name">{{ short(row.name) }}</text>
        <text :x="LABEL - 10" :y="row.top + 4" text-anchor="end" class="figure">{{ count(row.size) }}</text>
        <path :d="fibres(row)" class="fibre" :style="{ stroke: colour(row.cluster) }" />
        <circle :cx="row.begins" :cy="row.top" r="4" :style="{ fill: colour(row.cluster) }" />
        <text
          v-if="row.back != null"
          :x="row.begins + 8"
          :y="row.top - 5"
          class="back"
          :class="{ weak: row.back < stands }">
          {{ percent(row.back, 0) }}
        </text>
      </template>
      <template v-else>
        <rect x="0" :y="row.top - 5" width="10" height="10" rx="2" :fill="`url(#${patternId(row.cluster)})`" />
        <text x="16" :y="row.top + 4" class="leaf">{{ short(row.name) }}</text>
        <text :x="LABEL - 10" :y="row.top + 4" text-anchor="end" class="figure">{{ count(row.size) }}</text>
      </template>
    </Mark>
    <g
      class="needle"
      :class="{ dragging }"
      role="slider"
      tabindex="0"
      aria-label="Cut of the tree"
      :aria-valuenow="number"
      :aria-valuetext="counted(number, 'cluster')"
      :aria-valuemin="1"
      :aria-valuemax="labels.length"
      @pointerdown="drag"
      @keydown.left.prevent.stop="emit('cut', number + 1)"
      @keydown.right.prevent.stop="emit('cut', number - 1)">
      <rect :x="x(cutHeight) - 8" y="14" width="16" :height="height - 18" class="grip" />
      <line :x1="x(cutHeight)" :x2="x(cutHeight)" y1="20" :y2="height - 6" />
      <path :d="`M${x(cutHeight)} 16l-5 9h10z`" />
    </g>
  </Plot>
</template>

<style scoped>
.thread {
  fill: none;
  stroke-linecap: round;
  pointer-events: none;
}
.thread.above {
  opacity: 0.55;
}
.fibre {
  fill: none;
  stroke-width: 0.9;
  opacity: 0.75;
  pointer-events: none;
}
.name {
  font-family: var(--book);
  font-size: 14px;
  fill: var(--ink);
}
.leaf {
  font-family: var(--book);
  font-size: 12.5px;
  fill: var(--ink);
}
.figure {
  font-size: 11.5px;
  fill: var(--soft);
}
.back {
  font-size: 11px;
  fill: var(--soft);
  paint-order: stroke;
  stroke: var(--paper);
  stroke-width: 3px;
}
.back.weak {
  fill: var(--madder);
}
.needle {
  cursor: ew-resize;
}
.needle .grip {
  fill: transparent;
}
.needle line {
  stroke: var(--woad);
  stroke-width: 1.6;
  stroke-dasharray: 7 3;
}
.needle path {
  fill: var(--woad);
}
.needle:focus-visible,
.needle.dragging,
.needle:hover {
  outline: none;
}
.needle:focus-visible line,
.needle.dragging line,
.needle:hover line {
  stroke-width: 3;
}
</style>
