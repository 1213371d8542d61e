<script setup lang="ts">
import Button from 'primevue/button'
import ProgressBar from 'primevue/progressbar'
import { computed } from 'vue'

import type { Job } from '@/api/client'
import { duration } from '@/marks/format'

import { cancelJob, continueJob, gone, hasStopped, isAtWork } from './jobs'

/** A job at work with its progress, to be cancelled; or one that stopped with its reason, to be continued. */
const props = defineProps<{ job: Job; kept?: string }>()
const progress = computed(() => props.job.progress)
const reason = computed(() => {
  const said = props.job.state === 'failed' ? 'failed' : `was ${props.job.state}`
  return `${props.job.title} ${said}${props.job.error ? `: ${props.job.error}` : `. ${props.kept ?? 'What it had finished is kept.'}`}`
})
</script>

<template>
  <div v-if="isAtWork(job)" class="job row" role="status">
    <div class="grow">
      <ProgressBar :value="Math.round(100 * (progress?.done ?? 0))" :show-value="false" :aria-label="job.title" />
      <p class="soft small">
        <slot>{{ progress?.phase ?? 'Waiting' }}</slot>
        <span v-if="gone"> · the server does not answer</span>
        <span v-else-if="progress?.seconds_left != null"> · {{ duration(progress.seconds_left) }} left</span>
      </p>
    </div>
    <Button label="Cancel" severity="secondary" size="small" @click="cancelJob(job.id)" />
  </div>
  <p v-else-if="hasStopped(job)" class="notice row" :class="{ bad: job.error }">
    <span class="grow">{{ reason }}</span>
    <Button label="Continue" size="small" @click="continueJob(job.id)" />
  </p>
</template>

<style scoped>
.job {
  align-items: start;
}
p {
  margin: 0.2rem 0 0;
}
:deep(.p-progressbar) {
  height: 6px;
  margin-top: 0.5rem;
}
</style>
