<script setup lang="ts">
import { gone } from './jobs'
</script>

<template>
  <p v-if="gone" class="gone" role="alert">
    <b>The server does not answer.</b> It may have been stopped, or this machine was asleep. What you typed is kept
    here; start Skeinwork again where it ran. It is looked for all the time, and work that broke off can then be
    continued.
  </p>
</template>

<style scoped>
.gone {
  position: fixed;
  left: 84px;
  right: 0;
  bottom: 0;
  z-index: 70;
  margin: 0;
  padding: 0.7rem 1.2rem;
  background: var(--raised);
  border-top: 3px solid var(--madder);
  box-shadow: var(--shadow);
}
</style>
