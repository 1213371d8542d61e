<script setup lang="ts">
import { colour, patternId } from './dyes'

withDefaults(defineProps<{ dye: number; size?: number }>(), { size: 16 })
</script>

<template>
  <svg :width="size" :height="size" class="swatch" aria-hidden="true">
    <rect :width="size" :height="size" rx="3" :style="{ fill: colour(dye) }" />
    <rect :width="size" :height="size" rx="3" :fill="`url(#${patternId(dye)})`" />
  </svg>
</template>

<style scoped>
.swatch {
  flex: none;
  display: block;
}
</style>
