<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue'

import { mode } from '@/theme/mode'

import Mark from './Mark.vue'
import { nearest, REACH, type Point } from './points'

/**
 * Many points on a canvas under the other marks. One mark stands for the point that is looked at: the
 * pointer and the arrow keys move it.
 */
const props = defineProps<{
  points: Point[]
  chosen: (point: Point) => boolean
  width: number
  height: number
  top: number
}>()
const emit = defineEmits<{ pick: [string] }>()
const canvas = ref<HTMLCanvasElement>()
const at = ref(0)
const current = computed(() => props.points[Math.min(at.value, props.points.length - 1)])
const selected = computed(() => props.points.find((point) => props.chosen(point)))

function draw() {
  const sheet = canvas.value
  const pen = sheet?.getContext('2d')
  if (!sheet || !pen) return
  const scale = window.devicePixelRatio || 1
  sheet.width = props.width * scale
  sheet.height = props.height * scale
  pen.scale(scale, scale)
  pen.translate(0, -props.top)
  const style = getComputedStyle(sheet)
  const inks = new Map<string, string>()
  const ink = (colour: string) => {
    const name = /var\((--[\w-]+)\)/.exec(colour)?.[1]
    if (!name) return colour
    if (!inks.has(name)) inks.set(name, style.getPropertyValue(name))
    return inks.get(name) ?? ''
  }
  for (const point of props.points) {
    pen.globalAlpha = point.faint ? 0.4 : 1
    pen.fillStyle = ink(point.colour)
    pen.beginPath()
    pen.arc(point.x, point.y, point.radius ?? 3, 0, 2 * Math.PI)
    if (point.hollow) {
      pen.strokeStyle = pen.fillStyle
      pen.stroke()
    } else pen.fill()
  }
}
onMounted(draw)
watch([() => props.points, () => props.width, () => props.height, mode], draw, { flush: 'post' })

function look(event: PointerEvent) {
  const box = canvas.value?.getBoundingClientRect()
  if (!box) return
  const found = nearest(props.points, event.clientX - box.left, event.clientY - box.top + props.top)
  if (found) at.value = props.points.indexOf(found)
}
function step(event: KeyboardEvent) {
  const by = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[event.key]
  if (!by) return
  event.preventDefault()
  event.stopPropagation()
  at.value = (at.value + by + props.points.length) % props.points.length
}
</script>

<template>
  <g @pointermove="look">
    <foreignObject x="0" :y="top" :width="width" :height="height">
      <canvas ref="canvas" :style="{ width: `${width}px`, height: `${height}px` }" />
    </foreignObject>
    <circle
      v-if="selected"
      :cx="selected.x"
      :cy="selected.y"
      r="5.5"
      class="chosen"
      :style="{ fill: selected.colour }" />
    <Mark
      v-if="current"
      :said="current.said"
      :evidence="current.evidence"
      :selected="current.selected"
      @pick="emit('pick', current.key)"
      @keydown="step">
      <circle :cx="current.x" :cy="current.y" :r="REACH" class="target" />
    </Mark>
  </g>
</template>

<style scoped>
canvas {
  display: block;
}
.chosen {
  stroke: var(--ink);
  stroke-width: 2;
  pointer-events: none;
}
</style>
