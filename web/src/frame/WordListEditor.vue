<script setup lang="ts">
import { ref, watch } from 'vue'

const props = defineProps<{ label: string; words: string[]; lines?: boolean; sample?: string }>()
const emit = defineEmits<{ change: [string[]] }>()
const text = ref('')
// by what they are: the same words, asked for again, must not undo what is being written
watch(
  () => props.words.join(props.lines ? '\n' : ', '),
  (words) => (text.value = words),
  { immediate: true },
)
function save() {
  const words = [
    ...new Set(
      text.value
        .split(props.lines ? /\n/ : /[,\n]/)
        .map((word) => word.trim())
        .filter(Boolean),
    ),
  ]
  if (words.join('\n') !== props.words.join('\n')) emit('change', words)
}
</script>

<template>
  <label class="editor">
    {{ label }}
    <textarea
      v-model="text"
      rows="3"
      :placeholder="sample ?? (lines ? 'one = other' : 'word, word, …')"
      @change="save" />
  </label>
</template>

<style scoped>
.editor {
  display: grid;
}
textarea {
  font-family: var(--book);
  resize: vertical;
}
</style>
