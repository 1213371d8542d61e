<script setup lang="ts">
import type { ScaleLinear } from 'd3-scale'
import { computed } from 'vue'

import { distinctTicks } from './ticks'

/** The ticks of a vertical axis on one side, each with its hairline from `left` to `right`. */
const props = defineProps<{
  scale: ScaleLinear<number, number>
  ticks: number
  left: number
  right: number
  say: (value: number) => string
  side?: 'left' | 'right'
  bare?: boolean
}>()
const marked = computed(() => distinctTicks(props.scale, props.ticks, props.say))
</script>

<template>
  <g v-for="tick in marked" :key="tick">
    <line v-if="!bare" :x1="left" :x2="right" :y1="scale(tick)" :y2="scale(tick)" class="grid" />
    <text
      :x="side === 'right' ? right + 6 : left - 6"
      :y="scale(tick) + 4"
      :text-anchor="side === 'right' ? 'start' : 'end'">
      {{ say(tick) }}
    </text>
  </g>
</template>
