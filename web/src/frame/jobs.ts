import type { QueryClient } from '@tanstack/vue-query'
import { computed, ref, type Ref } from 'vue'

import { ask, client, type Job } from '@/api/client'

import { say } from './notices'

export const jobs = ref<Job[]>([])
const AT_WORK = new Set(['queued', 'running'])

export const isAtWork = (job: Job) => AT_WORK.has(job.state)
export const working = computed(() => jobs.value.filter(isAtWork))

/** The job at work on a strand, if any. */
export const useWorking = (strand: Ref<number>, kind?: string) =>
  computed(() => working.value.find((job) => job.strand === strand.value && (!kind || job.kind === kind)))

function take(queries: QueryClient, next: Job[]) {
  const before = new Map(jobs.value.map((job) => [job.id, job]))
  jobs.value = next
  for (const job of next) {
    const earlier = before.get(job.id)
    const step = `${job.state} ${job.progress?.finished ?? job.done}`
    const same = earlier && `${earlier.state} ${earlier.progress?.finished ?? earlier.done}` === step
    if (same || before.size === 0) continue
    queries.invalidateQueries({ queryKey: ['strand', job.strand] })
    queries.invalidateQueries({ queryKey: ['skeins'] })
    if (job.state === 'failed') say(job.error ?? `${job.title} failed.`, 'bad')
  }
}

/** Follow the server's jobs by its event stream; poll while the stream is down. */
export function followJobs(queries: QueryClient) {
  let polling: ReturnType<typeof setInterval> | undefined
  const source = new EventSource('/api/jobs/stream')
  source.onmessage = (event) => {
    clearInterval(polling)
    polling = undefined
    take(queries, JSON.parse(event.data))
  }
  source.onerror = () => {
    polling ??= setInterval(async () => {
      try {
        take(queries, await ask(client.GET('/api/jobs')))
      } catch {
        // the stream reconnects by itself; nothing to add
      }
    }, 2000)
  }
}

export const cancelJob = (id: number) =>
  ask(client.POST('/api/jobs/{job_id}/cancel', { params: { path: { job_id: id } } }))
export const continueJob = (id: number) =>
  ask(client.POST('/api/jobs/{job_id}/continue', { params: { path: { job_id: id } } }))
