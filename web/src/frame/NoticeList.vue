<script setup lang="ts">
import { dismiss, notices } from './notices'
</script>

<template>
  <div class="notices" role="status" aria-live="polite">
    <div v-for="notice in notices" :key="notice.id" class="notice" :class="notice.kind">
      <span>{{ notice.text }}</span>
      <button class="plain" aria-label="Dismiss" @click="dismiss(notice.id)">×</button>
    </div>
  </div>
</template>

<style scoped>
.notices {
  position: fixed;
  left: 50%;
  bottom: 1.2rem;
  transform: translateX(-50%);
  z-index: 80;
  display: grid;
  gap: 0.5rem;
  max-width: 46rem;
}
.notice {
  background: var(--raised);
  border: 1px solid var(--hairline);
  border-left: 3px solid var(--lichen);
  box-shadow: var(--shadow);
  display: flex;
  gap: 1rem;
}
.notice.bad {
  border-left-color: var(--madder);
}
</style>
