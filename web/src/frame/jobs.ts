import type { QueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'

import { ask, client, type Job } from '@/api/client'
import { useStrandId } from '@/api/strand'

import { say } from './notices'

export const jobs = ref<Job[]>([])

export const isAtWork = (job: Job) => job.state === 'queued' || job.state === 'running'
export const hasStopped = (job: Job) => ['interrupted', 'cancelled', 'failed'].includes(job.state)
export const working = computed(() => jobs.value.filter(isAtWork))

/** The newest job of one of these kinds on the strand in the address. */
export function useJob(...kinds: string[]) {
  const strand = useStrandId()
  const newest = computed(() => jobs.value.find((job) => job.strand === strand.value && kinds.includes(job.kind)))
  const atWork = computed(() => (newest.value && isAtWork(newest.value) ? newest.value : undefined))
  return {
    newest,
    atWork,
    /** At work, or stopped and to be continued: what a screen has to say of it. */
    told: computed(() => (newest.value && newest.value.state !== 'done' ? newest.value : undefined)),
    progress: computed(() => atWork.value?.progress ?? undefined),
  }
}

/** Jobs that have come a step further between two lists of the server; none of the first list. */
export function movedOn(before: Job[], next: Job[]): Job[] {
  if (!before.length) return []
  const step = (job?: Job) => job && `${job.state} ${job.progress?.finished ?? job.done}`
  const known = new Map(before.map((job) => [job.id, step(job)]))
  return next.filter((job) => known.get(job.id) !== step(job))
}

function take(queries: QueryClient, next: Job[]) {
  const moved = movedOn(jobs.value, next)
  jobs.value = next
  for (const job of moved) {
    queries.invalidateQueries({ queryKey: ['strand', job.strand] })
    queries.invalidateQueries({ queryKey: ['skeins'] })
    if (job.state === 'failed') say(job.error ?? `${job.title} failed.`, 'bad')
    if (job.state === 'interrupted') say(`${job.title} broke off. Work, above, continues it; nothing is lost.`, 'bad')
  }
}

/** Whether the server does not answer. */
export const gone = ref(false)
/** Without a sign of life for so long the server is taken to be gone, in milliseconds. */
const PATIENCE = 2500
const AGAIN = 400
/** The same where the connection itself broke. */
const BROKEN = 1000

/**
 * Follow the server's jobs by its event stream, which also beats while it is quiet.
 *
 * When the stream is silent, it is opened again until the server answers; then everything on the
 * screen is asked for anew.
 */
export function followJobs(queries: QueryClient) {
  let source: EventSource | undefined
  let heard = Date.now()
  const alive = () => {
    heard = Date.now()
    if (!gone.value) return
    gone.value = false
    queries.invalidateQueries()
  }
  function open() {
    source?.close()
    source = new EventSource('/api/jobs/stream')
    source.onmessage = (event) => {
      alive()
      take(queries, JSON.parse(event.data))
    }
    source.addEventListener('beat', alive)
    source.onerror = () => (heard = Math.min(heard, Date.now() - PATIENCE + BROKEN))
  }
  open()
  setInterval(() => {
    if (Date.now() - heard > PATIENCE) {
      gone.value = true
      if (source?.readyState !== EventSource.CONNECTING || Date.now() - heard > 4 * PATIENCE) open()
    }
  }, AGAIN)
}

export const cancelJob = (id: number) =>
  ask(client.POST('/api/jobs/{job_id}/cancel', { params: { path: { job_id: id } } }))
export const continueJob = (id: number) =>
  ask(client.POST('/api/jobs/{job_id}/continue', { params: { path: { job_id: id } } })).catch((fault: Error) =>
    say(fault.message, 'bad'),
  )
