<script setup lang="ts">
import { onBeforeUnmount, ref } from 'vue'

/** What is being computed, from the first moment; after a while how long that has been. */
defineProps<{ what: string }>()
const seconds = ref(0)
const timer = setInterval(() => (seconds.value += 1), 1000)
onBeforeUnmount(() => clearInterval(timer))
</script>

<template>
  <p class="soft waiting" role="status">
    <span class="thread" aria-hidden="true" />{{ what }}…<span v-if="seconds > 1" class="numbers small">
      {{ seconds }} s</span
    >
  </p>
</template>

<style scoped>
.waiting {
  display: flex;
  gap: 0.6rem;
  align-items: baseline;
}
.thread {
  width: 34px;
  border-top: 2.2px dashed var(--woad);
  align-self: center;
}
</style>
