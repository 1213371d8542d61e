<script setup lang="ts">
import Button from 'primevue/button'
import ProgressBar from 'primevue/progressbar'
import { computed } from 'vue'

import type { Job } from '@/api/client'
import { duration } from '@/marks/format'

import { continueJob, isAtWork } from './jobs'

/** A job at work with its progress, or one that stopped with its reason and the way on. */
const props = defineProps<{ job: Job; label: string; kept?: string }>()
const progress = computed(
  () => props.job.progress as { phase: string; done: number; seconds_left?: number | null } | null | undefined,
)
</script>

<template>
  <div v-if="isAtWork(job)" role="status">
    <ProgressBar :value="Math.round(100 * (progress?.done ?? 0))" :show-value="false" :aria-label="label" />
    <p class="soft small">
      <slot>{{ progress?.phase ?? 'Waiting' }}</slot>{{
        progress?.seconds_left ? ` · ${duration(progress.seconds_left)} left` : ''
      }}
    </p>
  </div>
  <p v-else class="notice row" :class="{ bad: job.error }">
    <span class="grow"
      >{{ job.title }} {{ job.state === 'failed' ? 'failed' : `was ${job.state}`
      }}{{ job.error ? `: ${job.error}` : `. ${kept ?? ''}` }}</span
    >
    <Button label="Continue" size="small" @click="continueJob(job.id)" />
  </p>
</template>
