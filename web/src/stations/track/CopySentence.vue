<script setup lang="ts">
import { useKey } from '@/frame/keys'
import { say } from '@/frame/notices'

/** Puts a sentence for a report on the clipboard. */
const props = defineProps<{ sentence: string }>()
async function copy() {
  try {
    await navigator.clipboard.writeText(props.sentence)
    say('The sentence is copied.')
  } catch {
    say('The browser does not let this page copy. Select the sentence and copy it.', 'bad')
  }
}
useKey('c', 'copy the sentence for a report', copy)
</script>

<template>
  <button class="plain link small" :title="sentence" @click="copy">copy the sentence <kbd>c</kbd></button>
</template>

<style scoped>
.link {
  font-family: var(--interface);
  min-height: 24px;
  margin-left: 0.6rem;
}
</style>
