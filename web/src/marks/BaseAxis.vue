<script setup lang="ts">
import { computed } from 'vue'

import { thinned, type Place } from './ticks'

/** Labels along the foot of a chart, as many as there is room for; with `grid` each with its hairline up to there. */
const props = defineProps<{ places: Place[]; y: number; room?: number; right?: number; grid?: number }>()
const shown = computed(() => thinned(props.places, props.room ?? 52, props.right))
</script>

<template>
  <g v-for="place in shown" :key="place.label">
    <line v-if="grid !== undefined" :x1="place.at" :x2="place.at" :y1="grid" :y2="y - 14" class="grid" />
    <text :x="place.at" :y="y" text-anchor="middle" :class="{ strong: place.strong }">{{ place.label }}</text>
  </g>
</template>

<style scoped>
.strong {
  font-weight: 700;
  fill: var(--ink);
}
</style>
