<script setup lang="ts">
import JobNotice from './JobNotice.vue'
import { isAtWork, jobs } from './jobs'

defineEmits<{ close: [] }>()
const LISTED = 12
</script>

<template>
  <section class="tray" aria-label="Work">
    <div class="row spread">
      <h2>Work</h2>
      <button class="plain" aria-label="Close" @click="$emit('close')">×</button>
    </div>
    <p v-if="!jobs.length" class="soft">Nothing has been run yet.</p>
    <article v-for="job in jobs.slice(0, LISTED)" :key="job.id">
      <div v-if="isAtWork(job) || job.state === 'done'" class="row spread">
        <b>{{ job.title }}</b>
        <span v-if="job.state === 'done'" class="soft small">done</span>
      </div>
      <JobNotice :job="job">
        {{ job.progress?.phase ?? 'Waiting' }} · {{ job.progress?.finished ?? 0 }} of {{ job.progress?.total ?? 0 }}
      </JobNotice>
    </article>
  </section>
</template>

<style scoped>
.tray {
  position: fixed;
  top: 48px;
  right: 0.8rem;
  width: 25rem;
  max-height: 80vh;
  overflow: auto;
  z-index: 50;
  padding: 0.9rem 1.1rem;
  background: var(--raised);
  border: 1px solid var(--hairline);
  border-radius: 6px;
  box-shadow: var(--shadow);
}
article {
  border-top: 1px solid var(--hairline);
  padding: 0.5rem 0;
}
article p {
  margin: 0.2rem 0 0;
}
</style>
