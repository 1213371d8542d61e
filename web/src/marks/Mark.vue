<script setup lang="ts">
import { computed } from 'vue'

import type { EvidenceRequest } from '@/api/evidence'
import { useSelection } from './selection'

/**
 * One thing on a chart that stands for documents: it can be focused (arrow keys go from mark to mark)
 * and picked, which shows its evidence. What is drawn for it goes into the slot, the largest part as
 * `.target`.
 */
const props = defineProps<{ said: string; evidence?: EvidenceRequest; selected?: boolean }>()
const emit = defineEmits<{ pick: [] }>()
const { select, isSelected } = useSelection()
const chosen = computed(() => props.selected || (!!props.evidence && isSelected(props.evidence)))
function pick() {
  if (props.evidence) select(props.evidence)
  emit('pick')
}
</script>

<template>
  <g
    class="mark"
    :class="{ selected: chosen }"
    data-mark
    role="button"
    tabindex="-1"
    :aria-pressed="chosen"
    @click="pick"
    @keydown.enter="pick">
    <title>{{ said }}</title>
    <slot :selected="chosen" />
  </g>
</template>

<style scoped>
.mark {
  cursor: pointer;
}
/* The ring of the browser itself goes round all that is drawn, over its neighbours. */
.mark:focus {
  outline: none;
}
.mark:focus-visible :deep(.target) {
  stroke: var(--woad);
  stroke-width: 2;
}
.mark :deep(.target) {
  fill: transparent;
}
.mark:hover :deep(.target),
.selected :deep(.target) {
  fill: var(--woad-wash);
}
</style>
