<script setup lang="ts">
import Button from 'primevue/button'
import { computed } from 'vue'

import { useRebuild, useStrand, useWanted } from '@/api/strand'

/** What of the strand is out of date, from one step on or in one of several, and the way to mend it. */
const props = defineProps<{ steps: string[] }>()
const { strand } = useStrand()
const { undo } = useWanted()
const rebuild = useRebuild()
const late = computed(() => (strand.value?.plies ?? []).filter((ply) => ply.state === 'stale'))
const shown = computed(() => late.value.some((ply) => props.steps.includes(ply.step)))
</script>

<template>
  <p v-if="shown" class="notice row">
    <span class="grow">Out of date: {{ late.map((ply) => ply.called).join(', ') }}. <slot /></span>
    <Button label="Rebuild (r)" size="small" @click="rebuild.mutate()" />
    <button v-if="strand?.undo" class="plain" title="Undo the last change of settings" @click="undo()">undo</button>
  </p>
</template>
