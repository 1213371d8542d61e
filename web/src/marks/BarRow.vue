<script setup lang="ts">
import { count } from './format'

defineProps<{ label: string; value: number; most: number; selected?: boolean; said?: string }>()
defineEmits<{ pick: [] }>()
</script>

<template>
  <button
    class="plain bar"
    :class="{ selected }"
    :aria-pressed="selected"
    :title="`${label}: ${said ?? count(value)}`"
    @click="$emit('pick')">
    <span class="cut">{{ label }}</span>
    <span class="track"><i :style="{ width: `${(100 * value) / Math.max(most, 1e-12)}%` }" /></span>
    <span class="numbers soft">{{ said ?? count(value) }}</span>
  </button>
</template>

<style scoped>
.bar {
  display: grid;
  grid-template-columns: 8rem 1fr 3.6rem;
  gap: 0.6rem;
  align-items: center;
  width: 100%;
  padding: 0.14rem 0.2rem;
}
.track {
  height: 10px;
}
i {
  display: block;
  height: 100%;
  background: var(--woad);
  min-width: 1px;
}
.bar:hover,
.selected {
  background: var(--woad-wash);
}
.selected .cut {
  font-weight: 700;
}
.numbers {
  text-align: right;
}
</style>
