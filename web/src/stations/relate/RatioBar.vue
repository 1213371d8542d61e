<script setup lang="ts">
import { computed } from 'vue'

import { times } from './words'

/** A log ratio with its interval about the line of no difference; an end that is open runs out of the picture. */
const props = defineProps<{ ratio: number; low?: number | null; high?: number | null; reach: [number, number] }>()
const WIDE = 200
const at = (value: number) => {
  const [low, high] = props.reach
  return 5 + ((Math.max(low, Math.min(high, value)) - low) / (high - low)) * (WIDE - 10)
}
const from = computed(() => (props.low == null ? 0 : at(props.low)))
const to = computed(() => (props.high == null ? WIDE : at(props.high)))
const told = computed(() => props.low != null || props.high != null)
</script>

<template>
  <span class="ratio">
    <svg :viewBox="`0 0 ${WIDE} 16`" aria-hidden="true">
      <line :x1="at(0)" :x2="at(0)" y1="0" y2="16" class="none" />
      <line v-if="told" :x1="from" :x2="to" y1="8" y2="8" class="interval" />
      <circle :cx="at(ratio)" cy="8" r="4" :class="{ hollow: !told }" />
    </svg>
    <small>{{ times(ratio).split(' ')[0] }}</small>
  </span>
</template>

<style scoped>
.ratio {
  display: flex;
  align-items: center;
  gap: 0.5rem;
}
.none {
  stroke: var(--soft);
  stroke-width: 1;
  stroke-dasharray: 2 2;
}
.interval {
  stroke: var(--woad);
  stroke-width: 2.4;
}
circle {
  fill: var(--woad);
}
.hollow {
  fill: var(--paper);
  stroke: var(--woad);
}
svg {
  flex: 1;
  min-width: 60px;
  max-width: 200px;
}
small {
  flex: none;
  width: 2.6rem;
  text-align: left;
}
</style>
