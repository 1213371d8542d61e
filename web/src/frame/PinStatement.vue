<script setup lang="ts">
import { usePin, type Said } from '@/api/holds'

import { useKey } from './keys'
import { say } from './notices'

/** Pins what is said of some documents, so that it can be tested over other choices. */
const props = defineProps<{ said: Said }>()
const pin = usePin()
function keep() {
  pin.mutate(props.said, {
    onSuccess: () => say('Pinned. “Does it hold?” at Track tests it over other choices.'),
  })
}
useKey('p', 'pin the statement', keep)
</script>

<template>
  <button
    class="plain link small"
    title="Keep this statement, to test it over other choices"
    :disabled="pin.isPending.value"
    @click="keep">
    <slot>pin it</slot> <kbd>p</kbd>
  </button>
</template>

<style scoped>
.link {
  font-family: var(--interface);
  min-height: 24px;
  margin-left: 0.6rem;
}
</style>
