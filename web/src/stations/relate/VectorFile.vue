<script setup lang="ts">
import { ref } from 'vue'

import type { Schemas } from '@/api/client'
import { sendForm } from '@/frame/uploads'

/** A file of vectors that somebody else computed: brought in and named, or left out again. */
type File_ = Schemas['VectorFile']
defineProps<{ file: File_ | null | undefined; what: string; accept: string }>()
const emit = defineEmits<{ change: [File_ | null] }>()
const sent = ref<number>()
const fault = ref('')
async function bring(event: Event) {
  const input = event.target as HTMLInputElement
  const chosen = input.files?.[0]
  if (!chosen) return
  fault.value = ''
  sent.value = 0
  const form = new FormData()
  form.append('file', chosen)
  try {
    const { sha256, name } = await sendForm<File_>('/api/uploads/vectors', form, (share) => (sent.value = share))
    emit('change', { sha256, name })
  } catch (problem) {
    fault.value = (problem as Error).message
  }
  sent.value = undefined
  input.value = ''
}
</script>

<template>
  <span class="row wrap small file">
    <template v-if="file">
      <b class="cut">{{ file.name }}</b>
      <button type="button" class="plain link" @click="emit('change', null)">without it</button>
    </template>
    <label v-else>{{ what }} <input type="file" :accept="accept" :aria-label="what" @change="bring" /></label>
    <span v-if="sent !== undefined" class="soft">{{ Math.round(100 * sent) }} %</span>
    <span v-if="fault" class="loss">{{ fault }}</span>
  </span>
</template>

<style scoped>
.file {
  align-items: end;
}
b {
  max-width: 14rem;
}
</style>
