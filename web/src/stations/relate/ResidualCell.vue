<script setup lang="ts">
import { computed } from 'vue'

import { count, decimal } from '@/marks/format'

/** How many, with a mark for more (＋) or less (−) than chance would have; its strength is that of the residual. */
const props = defineProps<{ n: number; expected: number; residual: number; said: string; selected?: boolean }>()
defineEmits<{ pick: [] }>()
const strength = computed(() => Math.min(1, Math.abs(props.residual) / 8))
const told = computed(() => Math.abs(props.residual) >= 2)
/** Without a sign where it rounds to nothing. */
const shown = computed(() => decimal(Math.round(props.residual * 10) / 10 + 0, 1))
const sentence = computed(
  () =>
    `${count(props.n)} ${shown.value}: ${props.said}; chance would have ${decimal(props.expected, 1)}, the residual is ${shown.value}`,
)
</script>

<template>
  <button
    class="plain residual"
    data-mark
    :class="{ more: residual > 0, selected }"
    :style="{ '--strength': `${told ? Math.round(18 + 60 * strength) : 0}%` }"
    :title="sentence"
    :aria-label="sentence"
    @click="$emit('pick')">
    <span class="sign" aria-hidden="true">{{ told ? (residual > 0 ? '+' : '−') : '' }}</span>
    <span class="numbers"
      >{{ count(n) }} <small>{{ shown }}</small></span
    >
  </button>
</template>

<style scoped>
.residual {
  display: flex;
  justify-content: space-between;
  gap: 0.2rem;
  width: 100%;
  min-width: 62px;
  min-height: 24px;
  padding: 0.1rem 0.35rem;
  font-size: 0.82rem;
  white-space: nowrap;
  background: color-mix(in srgb, var(--weld) calc(var(--strength) * 0.55), var(--raised));
}
.more {
  background: color-mix(in srgb, var(--lichen) calc(var(--strength) * 0.55), var(--raised));
}
.residual:hover,
.selected {
  outline: 2px solid var(--woad);
  outline-offset: -2px;
}
.sign {
  min-width: 0.8em;
}
</style>
