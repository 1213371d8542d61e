<script setup lang="ts">
import { colour, patternId, STITCH_PATHS, stitchOf } from './dyes'

defineProps<{ count: number }>()
</script>

<template>
  <svg width="0" height="0" aria-hidden="true" class="defs">
    <defs>
      <pattern
        v-for="index in count"
        :id="patternId(index - 1)"
        :key="index"
        width="8"
        height="8"
        patternUnits="userSpaceOnUse">
        <rect width="8" height="8" :style="{ fill: colour(index - 1) }" />
        <path
          :d="STITCH_PATHS[stitchOf(index - 1)]"
          fill="none"
          stroke-width="1.1"
          style="stroke: var(--raised)"
          :stroke-opacity="0.62"
          stroke-linecap="round" />
      </pattern>
    </defs>
  </svg>
</template>

<style scoped>
.defs {
  position: absolute;
}
</style>
