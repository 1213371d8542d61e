<script setup lang="ts">
import { colour } from '@/marks/dyes'

/** The swatch of a family: the dyes of its topics plied into one thread. */
const props = withDefaults(defineProps<{ dyes: number[]; size?: number }>(), { size: 18 })
const MOST = 6
const strands = () => props.dyes.slice(0, MOST)
</script>

<template>
  <svg :width="size" :height="size" viewBox="0 0 18 18" aria-hidden="true" class="plied">
    <path
      v-for="(dye, at) in strands()"
      :key="at"
      :d="`M${1 + (16 * (at + 0.5)) / strands().length} 0c5 4.5 -5 4.5 0 9s-5 4.5 0 9`"
      :style="{ stroke: colour(dye), strokeWidth: Math.max(2.4, 15 / strands().length) }" />
  </svg>
</template>

<style scoped>
.plied {
  flex: none;
  display: block;
  border-radius: 9px;
  background: var(--raised);
}
path {
  fill: none;
}
</style>
