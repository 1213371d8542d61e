<script setup lang="ts">
import type { ScaleLinear } from 'd3-scale'

/** The ticks of a vertical axis, each with its hairline from `left` to `right`. */
defineProps<{
  scale: ScaleLinear<number, number>
  ticks: number
  left: number
  right: number
  say: (value: number) => string
  bare?: boolean
}>()
</script>

<template>
  <g v-for="tick in scale.ticks(ticks)" :key="tick">
    <line v-if="!bare" :x1="left" :x2="right" :y1="scale(tick)" :y2="scale(tick)" class="grid" />
    <text :x="left - 6" :y="scale(tick) + 4" text-anchor="end">{{ say(tick) }}</text>
  </g>
</template>
