<script setup lang="ts">
import Button from 'primevue/button'
import ProgressBar from 'primevue/progressbar'

import type { Job } from '@/api/client'
import { duration } from '@/marks/format'

import { cancelJob, continueJob, isAtWork, jobs } from './jobs'

defineEmits<{ close: [] }>()
const SAID: Record<string, string> = {
  done: 'done',
  failed: 'failed',
  cancelled: 'cancelled',
  interrupted: 'interrupted',
}
function detail(job: Job) {
  const progress = job.progress as {
    phase: string
    finished: number
    total: number
    seconds_left: number | null
  } | null
  if (!progress) return 'waiting'
  const left = progress.seconds_left === null ? '' : ` · ${duration(progress.seconds_left)} left`
  return `${progress.phase} · ${progress.finished} of ${progress.total}${left}`
}
const share = (job: Job) => Math.round(100 * Number((job.progress as { done?: number } | null)?.done ?? 0))
</script>

<template>
  <section class="tray" aria-label="Work">
    <div class="row spread">
      <h2>Work</h2>
      <button class="plain" aria-label="Close" @click="$emit('close')">×</button>
    </div>
    <p v-if="!jobs.length" class="soft">Nothing has been run yet.</p>
    <article v-for="job in jobs.slice(0, 12)" :key="job.id">
      <div class="row spread">
        <b>{{ job.title }}</b>
        <Button v-if="isAtWork(job)" label="Cancel" size="small" severity="secondary" @click="cancelJob(job.id)" />
        <Button
          v-else-if="job.state !== 'done'"
          label="Continue"
          size="small"
          severity="secondary"
          @click="continueJob(job.id)" />
        <span v-else class="soft small">done</span>
      </div>
      <template v-if="isAtWork(job)">
        <ProgressBar :value="share(job)" :show-value="false" :aria-label="job.title" />
        <p class="soft small">{{ detail(job) }}</p>
      </template>
      <p v-else-if="job.state !== 'done'" class="small" :class="{ loss: job.state === 'failed' }">
        {{ SAID[job.state] }}{{ job.error ? `: ${job.error}` : '. What it had finished is kept.' }}
      </p>
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
:deep(.p-progressbar) {
  height: 6px;
  margin-top: 0.4rem;
}
</style>
