<script setup lang="ts">
import { scaleSqrt } from 'd3-scale'
import { computed } from 'vue'

import { colour } from '@/marks/dyes'

/** How a topic's shares are spread over documents, small: a bar for each range of shares, those without any left out. */
const props = defineProps<{ counts: number[]; dye: number }>()
const WIDTH = 44
const HIGH = 18
const bars = computed(() => props.counts.slice(1))
const y = computed(() => scaleSqrt([0, Math.max(1, ...bars.value)], [0, HIGH]))
const step = computed(() => WIDTH / Math.max(1, bars.value.length))
</script>

<template>
  <svg :width="WIDTH" :height="HIGH" aria-hidden="true">
    <rect
      v-for="(n, at) in bars"
      :key="at"
      :x="at * step"
      :y="HIGH - y(n)"
      :width="step - 1"
      :height="y(n)"
      :style="{ fill: colour(dye) }" />
    <path :d="`M0 ${HIGH - 0.5}H${WIDTH}`" />
  </svg>
</template>

<style scoped>
svg {
  flex: none;
}
path {
  stroke: var(--hairline);
}
</style>
