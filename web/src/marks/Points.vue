<script setup lang="ts">
import { computed } from 'vue'

import CanvasLayer from './CanvasLayer.vue'
import Mark from './Mark.vue'
import { MOST_ELEMENTS, REACH, type Point } from './points'
import { useSelection } from './selection'

/** Points that stand for documents: marks of their own, or, where there are many, drawn on a canvas. */
const props = defineProps<{ points: Point[]; width: number; height: number; top?: number }>()
const emit = defineEmits<{ pick: [string] }>()
const { isSelected } = useSelection()
const many = computed(() => props.points.length > MOST_ELEMENTS)
const chosen = (point: Point) => point.selected || (!!point.evidence && isSelected(point.evidence))
</script>

<template>
  <CanvasLayer
    v-if="many"
    :points="points"
    :chosen="chosen"
    :width="width"
    :height="height"
    :top="top ?? 0"
    @pick="emit('pick', $event)" />
  <template v-else>
    <Mark
      v-for="point in points"
      :key="point.key"
      v-slot="{ selected }"
      :said="point.said"
      :evidence="point.evidence"
      :selected="point.selected"
      @pick="emit('pick', point.key)">
      <circle :cx="point.x" :cy="point.y" :r="REACH - 3" class="target" />
      <circle
        :cx="point.x"
        :cy="point.y"
        :r="(point.radius ?? 3) + (selected ? 2.6 : 0)"
        class="dot"
        :class="{ faint: point.faint, hollow: point.hollow, selected }"
        :style="{ fill: point.hollow ? undefined : point.colour, stroke: point.hollow ? point.colour : undefined }" />
    </Mark>
  </template>
</template>

<style scoped>
.dot {
  pointer-events: none;
}
.dot.faint {
  opacity: 0.4;
}
.dot.hollow {
  fill: var(--paper);
  stroke-width: 1.8;
  opacity: 1;
}
.dot.selected {
  stroke: var(--ink);
  stroke-width: 2;
}
</style>
