<script setup lang="ts">
import type { HeldMark } from '@/api/holds'

import HeldKnot from './HeldKnot.vue'

/** One statement under one choice: a knot that opens to its figures. */
defineProps<{ mark: HeldMark; name: string; open: boolean }>()
defineEmits<{ pick: [] }>()
</script>

<template>
  <button
    class="plain knot"
    :class="{ selected: open }"
    :aria-pressed="open"
    :aria-label="`${name}, ${mark.title}: ${mark.says || 'not tested'}`"
    :title="mark.says || 'not tested'"
    @click="$emit('pick')">
    <HeldKnot :verdict="mark.verdict" />
  </button>
</template>

<style scoped>
.knot {
  display: grid;
  place-items: center;
  min-width: 30px;
  min-height: 26px;
  border-radius: 4px;
}
.knot:hover,
.knot.selected {
  background: var(--weld-wash);
}
</style>
