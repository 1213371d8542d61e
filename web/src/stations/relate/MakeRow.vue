<script setup lang="ts">
import Button from 'primevue/button'
import { computed } from 'vue'

import { useJob } from '@/frame/jobs'

/** Settings in a row with the button that makes a result of them; `preview` documents make one quickly. */
const props = defineProps<{
  what: string
  made: boolean
  stale: boolean
  changed: boolean
  starting: boolean
  preview?: number
}>()
defineEmits<{ make: []; preview: [] }>()
const { atWork } = useJob('beside')
const label = computed(() =>
  props.made ? (props.stale ? `Make ${props.what} again` : 'Make anew') : `Make ${props.what}`,
)
const idle = computed(() => props.made && !props.stale && !props.changed)
</script>

<template>
  <form class="row wrap settings" @submit.prevent="$emit('make')">
    <slot />
    <template v-if="!atWork">
      <Button type="submit" size="small" :label="label" :disabled="idle" :loading="starting" />
      <Button
        v-if="preview"
        type="button"
        size="small"
        severity="secondary"
        :label="`Preview on ${preview}`"
        @click="$emit('preview')" />
    </template>
    <span v-if="stale && !atWork" class="small loss">made of what is out of date</span>
    <small class="soft hint"><slot name="hint" /></small>
  </form>
</template>

<style scoped>
.settings {
  gap: 0.5rem 1rem;
  align-items: end;
}
.settings :deep(label) {
  display: grid;
  font-size: 0.86rem;
}
.settings :deep(input[type='number']) {
  width: 5rem;
}
.settings :deep(select) {
  max-width: 13rem;
}
.hint {
  flex-basis: 100%;
}
</style>
