<script setup lang="ts">
import Button from 'primevue/button'
import { ref } from 'vue'

import { ask, client } from '@/api/client'

import type { Preview } from '@/frame/uploads'

const emit = defineEmits<{ pasted: [Preview]; cancel: [] }>()
const text = ref('')
const between = ref<'lines' | 'blank-lines' | 'nothing'>('lines')
const fault = ref('')

/** Blank lines between the lines are most likely what parts the documents. */
function guess(event: ClipboardEvent) {
  const pasted = event.clipboardData?.getData('text') ?? ''
  if (!text.value && /\S[ \t]*\r?\n[ \t]*\r?\n[ \t]*\S/.test(pasted)) between.value = 'blank-lines'
}
async function take() {
  try {
    const body = { name: 'Pasted text', text: text.value, between: between.value }
    emit('pasted', await ask(client.POST('/api/uploads/paste', { body })))
  } catch (problem) {
    fault.value = (problem as Error).message
  }
}
</script>

<template>
  <div class="paste">
    <textarea v-model="text" rows="6" class="book" aria-label="Text to bring in" @paste="guess" />
    <p v-if="fault" class="notice bad">{{ fault }}</p>
    <div class="row wrap">
      <label class="row">
        a document
        <select v-model="between">
          <option value="lines">is a line</option>
          <option value="blank-lines">ends at a blank line</option>
          <option value="nothing">is all of it</option>
        </select>
      </label>
      <Button label="Take this text" size="small" :disabled="!text.trim()" @click="take" />
      <button class="plain soft" @click="emit('cancel')">cancel</button>
    </div>
  </div>
</template>

<style scoped>
.paste {
  display: grid;
  gap: 0.5rem;
}
textarea {
  width: 100%;
  font-size: 1rem;
  color: var(--ink);
  background: var(--paper);
  border: 1px solid var(--soft);
  border-radius: 4px;
  padding: 0.5rem;
}
</style>
