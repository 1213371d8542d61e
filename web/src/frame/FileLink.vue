<script setup lang="ts">
/** A link that lets a file be chosen. */
defineProps<{ accept: string; name: string }>()
const emit = defineEmits<{ chosen: [File] }>()
function choose(event: Event) {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  if (file) emit('chosen', file)
}
</script>

<template>
  <label class="plain link"><slot /><input type="file" :accept="accept" :aria-label="name" @change="choose" /></label>
</template>

<style scoped>
input {
  position: absolute;
  width: 1px;
  height: 1px;
  opacity: 0;
}
label:focus-within {
  outline: 2px solid var(--woad);
}
</style>
