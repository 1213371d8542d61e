<script setup lang="ts">
import JobNotice from './JobNotice.vue'
import { counted } from '@/marks/format'

import { isAtWork, jobs, putFirst } from './jobs'

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
        <template v-if="job.progress?.before"
          >Waits for {{ counted(job.progress.before, 'other job') }}
          <button class="plain link" :aria-label="`${job.title} first`" @click="putFirst(job.id)">
            this one next
          </button></template
        >
        <template v-else
          >{{ job.progress?.phase ?? 'Waiting' }} · {{ job.progress?.finished ?? 0 }} of
          {{ job.progress?.total ?? 0 }}</template
        >
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
