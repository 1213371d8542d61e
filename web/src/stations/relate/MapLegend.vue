<script setup lang="ts">
import { stitchOf, colour } from '@/marks/dyes'
import { count } from '@/marks/format'
import { SHAPES } from '@/marks/scatter'

/** What the points of a map are told apart by; each value can be looked at alone, or with some others. */
defineProps<{ values: string[]; counts: number[]; dyes: number[]; only: Set<number>; others: number }>()
defineEmits<{ toggle: [number]; all: [] }>()

const PATHS: Record<(typeof SHAPES)[number], string> = {
  disc: 'M11 6A5 5 0 1 1 1 6A5 5 0 1 1 11 6Z',
  square: 'M2 2H10V10H2Z',
  diamond: 'M6 .5L11.5 6L6 11.5L.5 6Z',
  triangle: 'M6 1L11 10H1Z',
  cross: 'M.5 4.5H4.5V.5H7.5V4.5H11.5V7.5H7.5V11.5H4.5V7.5H.5Z',
  ring: 'M11 6A5 5 0 1 1 1 6A5 5 0 1 1 11 6ZM8.4 6A2.4 2.4 0 1 0 3.6 6A2.4 2.4 0 1 0 8.4 6Z',
  wedge: 'M6 11L1 2H11Z',
  bar: 'M.5 4H11.5V8H.5Z',
}
const shape = (dye: number) => PATHS[SHAPES[stitchOf(dye)]]
</script>

<template>
  <div class="legend small" role="group" aria-label="What is on the map">
    <button
      v-for="(value, at) in values"
      :key="at"
      class="plain"
      :aria-pressed="only.has(at)"
      :class="{ off: only.size > 0 && !only.has(at) }"
      :title="`${value}: ${count(counts[at])}`"
      @click="$emit('toggle', at)">
      <svg width="12" height="12" aria-hidden="true">
        <path :d="shape(dyes[at])" fill-rule="evenodd" :style="{ fill: colour(dyes[at]) }" />
      </svg>
      <span class="cut">{{ value }}</span>
      <span class="soft numbers">{{ count(counts[at]) }}</span>
    </button>
    <p v-if="others" class="soft">{{ count(others) }} others, in ink</p>
    <button v-if="only.size" class="plain link" @click="$emit('all')">show all</button>
    <p v-else class="soft">Choose one or more to see these alone.</p>
  </div>
</template>

<style scoped>
.legend {
  display: grid;
  align-content: start;
  gap: 0.1rem;
  overflow: auto;
}
button:not(.link) {
  display: grid;
  grid-template-columns: 14px minmax(0, 1fr) auto;
  gap: 0.4rem;
  align-items: center;
  min-height: 24px;
  border-radius: 4px;
}
button:hover,
button[aria-pressed='true'] {
  background: var(--sunk);
}
.off {
  color: var(--soft);
}
.off svg {
  opacity: 0.4;
}
p {
  margin: 0.3rem 0 0;
}
</style>
