<script setup lang="ts">
import { contours } from 'd3-contour'
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue'

import type { Schemas } from '@/api/client'
import { dyeOf, stitchOf } from '@/marks/dyes'
import { inside, nearer, PointIndex, rounded, toSheet, trace, type Corner, type Sight } from '@/marks/scatter'
import { mode as theme } from '@/theme/mode'

/**
 * The map itself: points on a canvas, contours and names of dense areas over it. An outline is drawn by hand, or by a
 * frame that the arrow keys move and grow.
 */
export type Way = 'round' | 'box' | 'move'
const props = defineProps<{
  x: Float64Array
  y: Float64Array
  /** Dye and stitch of each point; -1 for plain ink. */
  dye: Int16Array | undefined
  /** Whether a point is drawn at all. */
  counts: (at: number) => boolean
  /** Those that are evidence: the others are faint. */
  lit: Uint8Array | undefined
  areas: Schemas['MapAreas'] | undefined
  whole: Sight
  outline: Corner[]
  way: Way
  height: number
  names: boolean
  said: string
}>()
const emit = defineEmits<{ outline: [Corner[]]; point: [number]; hover: [number, Corner]; forming: [number] }>()
const sight = defineModel<Sight>('sight', { required: true })
const canvas = ref<HTMLCanvasElement>()
const box = ref<HTMLElement>()
const width = ref(600)
const sheet = computed(() => toSheet(sight.value, width.value, props.height))
const index = computed(() => new PointIndex(props.x, props.y, props.whole.size / 120))
const radius = computed(() => {
  const usual = props.x.length > 20_000 ? 1.3 : props.x.length > 5_000 ? 1.9 : props.x.length > 800 ? 2.6 : 3.6
  return usual * Math.min(2.2, (props.whole.size / sight.value.size) ** 0.4)
})

/** Heights at which the density is drawn as lines, as shares of the highest. */
const LEVELS = [0.06, 0.2, 0.45, 0.75]
const rings = computed(() => {
  const given = props.areas
  if (!given) return []
  return contours().size([given.side, given.side]).thresholds(LEVELS)(given.grid)
})
const lines = computed(() => {
  const side = props.areas?.side ?? 1
  const px = (value: number) => sheet.value.x(props.whole.x + (value / side) * props.whole.size).toFixed(1)
  const py = (value: number) => sheet.value.y(props.whole.y + (value / side) * props.whole.size).toFixed(1)
  return rings.value.map((level) =>
    level.coordinates
      .flatMap((polygon) => polygon.map((ring) => `M${ring.map(([x, y]) => `${px(x)} ${py(y)}`).join('L')}Z`))
      .join(''),
  )
})
function draw() {
  const area = canvas.value
  const pen = area?.getContext('2d')
  if (!area || !pen) return
  const scale = window.devicePixelRatio || 1
  area.width = width.value * scale
  area.height = props.height * scale
  pen.scale(scale, scale)
  const style = getComputedStyle(area)
  drawRings(pen, style)
  const inks = new Map<number, string>()
  const ink = (value: number) => {
    if (!inks.has(value)) inks.set(value, style.getPropertyValue(value < 0 ? '--soft' : `--dye-${dyeOf(value)}`))
    return inks.get(value)!
  }
  // What is faint is drawn first, so that it covers none of what is lit.
  for (const faint of props.lit ? [true, false] : [false]) {
    pen.globalAlpha = faint ? 0.22 : 0.85
    const r = props.lit && !faint ? radius.value * 1.25 : radius.value
    // Some at a time, in the mixed order that they come in, so that no colour covers the others.
    const few = Math.max(200, Math.ceil(props.x.length / 16))
    for (let begins = 0; begins < props.x.length; begins += few)
      for (const [value, path] of traced(begins, begins + few, faint, r)) {
        pen.fillStyle = ink(value)
        pen.fill(path)
      }
  }
}
/** Some points as paths, one for each dye. */
function traced(begins: number, ends: number, faint: boolean, r: number) {
  const { x, y, dye, lit, counts } = props
  const { x: toX, y: toY } = sheet.value
  const [right, bottom, dots] = [width.value + 5, props.height + 5, small.value]
  const paths = new Map<number, Path2D>()
  for (let at = begins; at < Math.min(ends, x.length); at++) {
    if ((lit && !lit[at] !== faint) || !counts(at)) continue
    const [px, py] = [toX(x[at]), toY(y[at])]
    if (px < -5 || py < -5 || px > right || py > bottom) continue
    const value = dye ? dye[at] : -1
    let path = paths.get(value)
    if (!path) paths.set(value, (path = new Path2D()))
    if (dots) path.rect(px - r, py - r, 2 * r, 2 * r)
    else trace(path, value < 0 ? 0 : stitchOf(value), px, py, r)
  }
  return paths
}
/** How densely points lie, as lines under them. */
function drawRings(pen: CanvasRenderingContext2D, style: CSSStyleDeclaration) {
  pen.strokeStyle = style.getPropertyValue('--soft')
  pen.fillStyle = style.getPropertyValue('--sunk')
  lines.value.forEach((line, at) => {
    const path = new Path2D(line)
    pen.globalAlpha = 0.25
    pen.fill(path)
    pen.globalAlpha = 0.4 + 0.15 * at
    pen.stroke(path)
  })
}
/** So small that a shape can't be told. */
const small = computed(() => radius.value < 1.8 && props.x.length > 20_000)
onMounted(draw)
watch([() => [props.x, props.dye, props.counts, props.lit, props.height, lines.value], sheet, theme], draw, {
  flush: 'post',
})
let observer: ResizeObserver | undefined
/** Ahead of the first look at a point. */
onMounted(() => setTimeout(() => index.value, 200))
onMounted(() => {
  width.value = box.value?.clientWidth ?? 600
  observer = new ResizeObserver(([entry]) => (width.value = Math.max(200, entry.contentRect.width)))
  if (box.value) observer.observe(box.value)
})
onBeforeUnmount(() => observer?.disconnect())

/** Names that have room, the largest areas first. */
const labels = computed(() => {
  const placed: { x: number; y: number; half: number; area: Schemas['Area'] }[] = []
  for (const area of props.names ? (props.areas?.areas ?? []) : []) {
    const half = area.name.length * 3.4 + 6
    const x = Math.min(Math.max(sheet.value.x(area.x), half), width.value - half)
    const y = sheet.value.y(area.y)
    if (y < 10 || y > props.height - 4 || sheet.value.x(area.x) < 0 || sheet.value.x(area.x) > width.value) continue
    const free = (dy: number) =>
      !placed.some((other) => Math.abs(other.x - x) < other.half + half && Math.abs(other.y - y - dy) < 17)
    const aside = [0, 18, -18, 36].find(free)
    if (aside !== undefined) placed.push({ x, y: y + aside, half, area })
  }
  return placed
})

const path = ref<Corner[]>([])
let begun: Corner | undefined
const place = (event: PointerEvent): Corner => {
  const frame = canvas.value!.getBoundingClientRect()
  return { x: event.clientX - frame.left, y: event.clientY - frame.top }
}
const onMap = (at: Corner): Corner => ({ x: sheet.value.mapX(at.x), y: sheet.value.mapY(at.y) })
const cornersOf = (one: Corner, other: Corner): Corner[] => [
  one,
  { x: other.x, y: one.y },
  other,
  { x: one.x, y: other.y },
]
function down(event: PointerEvent) {
  if (event.button) return
  begun = place(event)
  path.value = [begun]
  ;(event.currentTarget as HTMLElement).setPointerCapture(event.pointerId)
}
function move(event: PointerEvent) {
  const here = place(event)
  if (!begun) {
    const reach = 9 / sheet.value.scale
    return emit('hover', index.value.nearest(onMap(here), reach, props.counts), here)
  }
  if (props.way === 'move') {
    const by = (at: number) => at / sheet.value.scale
    sight.value = {
      ...sight.value,
      x: sight.value.x - by(here.x - path.value[0].x),
      y: sight.value.y + by(here.y - path.value[0].y),
    }
    path.value = [here]
  } else if (props.way === 'box') path.value = cornersOf(begun, here)
  else if (Math.hypot(here.x - path.value.at(-1)!.x, here.y - path.value.at(-1)!.y) > 2)
    path.value = [...path.value, here]
}
function up(event: PointerEvent) {
  if (!begun) return
  const here = place(event)
  const clicked = Math.hypot(here.x - begun.x, here.y - begun.y) < 4 && path.value.length < 4
  const drawn = path.value
  begun = undefined
  path.value = []
  if (clicked) {
    const at = index.value.nearest(onMap(here), 9 / sheet.value.scale, props.counts)
    if (at >= 0) emit('point', at)
  } else if (props.way !== 'move' && drawn.length > 2) take(drawn.map(onMap))
}
function take(corners: Corner[]) {
  const few = rounded(corners)
  if (few.length > 2) emit('outline', few)
}

/** A frame on the sheet for the keyboard, from its middle. */
const frame = ref<{ x: number; y: number; w: number; h: number }>()
const framed = computed(() => {
  const at = frame.value
  return at && cornersOf({ x: at.x - at.w / 2, y: at.y - at.h / 2 }, { x: at.x + at.w / 2, y: at.y + at.h / 2 })
})
const STEP = 14
function key(event: KeyboardEvent) {
  const zoom = { '+': 1.4, '=': 1.4, '-': 1 / 1.4 }[event.key]
  const arrow = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key]
  if (zoom) sight.value = nearer(sight.value, zoom)
  else if (event.key === '0') sight.value = props.whole
  else if (event.key === 'Escape' && frame.value) frame.value = undefined
  else if (event.key === 'Enter' && framed.value) take(framed.value.map(onMap))
  else if (arrow) {
    const [dx, dy] = arrow
    const at = frame.value ?? { x: width.value / 2, y: props.height / 2, w: 90, h: 90 }
    frame.value = event.shiftKey
      ? { ...at, w: Math.max(8, at.w + 2 * STEP * dx), h: Math.max(8, at.h - 2 * STEP * dy) }
      : { ...at, x: at.x + STEP * dx, y: at.y + STEP * dy }
    emit('forming', inside(props.x, props.y, framed.value!.map(onMap)).filter(props.counts).length)
  } else return
  event.preventDefault()
  event.stopPropagation()
}
const pathOf = (corners: Corner[]) => `M${corners.map((at) => `${at.x.toFixed(1)} ${at.y.toFixed(1)}`).join('L')}Z`
const kept = computed(() =>
  props.outline.length > 2
    ? pathOf(props.outline.map((at) => ({ x: sheet.value.x(at.x), y: sheet.value.y(at.y) })))
    : '',
)
</script>

<template>
  <div
    ref="box"
    class="ground"
    tabindex="0"
    role="application"
    aria-roledescription="map"
    :aria-label="said"
    :style="{ height: `${height}px` }"
    @keydown="key"
    @blur="frame = undefined"
    @pointerleave="emit('hover', -1, { x: 0, y: 0 })">
    <svg :width="width" :height="height" role="presentation">
      <foreignObject x="0" y="0" :width="width" :height="height">
        <canvas
          ref="canvas"
          :class="way"
          :style="{ width: `${width}px`, height: `${height}px` }"
          @pointerdown="down"
          @pointermove="move"
          @pointerup="up" />
      </foreignObject>
      <g class="names" aria-hidden="true">
        <text v-for="each in labels" :key="each.area.area" :x="each.x" :y="each.y" text-anchor="middle">
          {{ each.area.name }}
        </text>
      </g>
      <path v-if="kept" :d="kept" class="outline" />
      <path v-if="path.length > 1 && way !== 'move'" :d="pathOf(path)" class="outline forming" />
      <path v-if="framed" :d="pathOf(framed)" class="outline forming" />
    </svg>
    <slot />
  </div>
</template>

<style scoped>
.ground {
  position: relative;
  border: 1px solid var(--hairline);
  background: var(--raised);
  min-width: 0;
}
svg {
  display: block;
  position: absolute;
  inset: 0;
}
canvas {
  display: block;
  touch-action: none;
  cursor: crosshair;
}
canvas.move {
  cursor: grab;
}
.names text {
  font-family: var(--heading);
  font-size: 12.5px;
  font-weight: 650;
  fill: var(--ink);
  paint-order: stroke;
  stroke: var(--raised);
  stroke-width: 4px;
  stroke-linejoin: round;
  pointer-events: none;
}
.outline {
  fill: var(--woad);
  fill-opacity: 0.1;
  stroke: var(--woad);
  stroke-width: 2;
  stroke-dasharray: 6 3;
  pointer-events: none;
}
.forming {
  stroke-dasharray: 3 3;
}
</style>
