import type { QueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'

import { ask, client, type Job } from '@/api/client'
import { useStrandId } from '@/api/strand'

import { CHANNEL, PATIENCE, type Heard } from './heard'
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

/** Jobs that have come a step further between two lists of the server; none of the first list, before which is none. */
export function movedOn(before: Job[] | undefined, next: Job[]): Job[] {
  if (!before) return []
  const step = (job?: Job) => job && `${job.state} ${job.progress?.finished ?? job.done}`
  const known = new Map(before.map((job) => [job.id, step(job)]))
  return next.filter((job) => known.get(job.id) !== step(job))
}

let last: Job[] | undefined

function take(queries: QueryClient, next: Job[]) {
  const moved = movedOn(last, next)
  jobs.value = last = next
  for (const job of moved) {
    queries.invalidateQueries({ queryKey: ['strand', job.strand] })
    queries.invalidateQueries({ queryKey: ['skeins'] })
    if (!isAtWork(job)) queries.invalidateQueries({ queryKey: ['storage'] })
    if (job.state === 'failed') say(job.error ?? `${job.title} failed.`, 'bad')
    if (job.state === 'interrupted') say(`${job.title} broke off. Work, above, continues it; nothing is lost.`, 'bad')
  }
}

/** Whether the server does not answer. */
export const gone = ref(false)
const AGAIN = 400
/** So soon the server is taken to be gone where the connection itself broke. */
const BROKEN = 1000
/** Silence after which a tab asks by itself: no shared worker here, or it has died. */
const SILENCE = 1500

/**
 * Follow the server's jobs by the one event stream that all tabs share, which also beats while it is quiet.
 *
 * When it is silent the tab asks by itself until the server answers; then everything on the screen is asked for
 * anew.
 */
export function followJobs(queries: QueryClient) {
  let heard = Date.now()
  let asking = false
  const alive = () => {
    heard = Date.now()
    if (!gone.value) return
    gone.value = false
    queries.invalidateQueries()
  }
  function hear(said: Heard) {
    if ('broken' in said) return (heard = Math.min(heard, Date.now() - PATIENCE + BROKEN))
    alive()
    if ('jobs' in said) take(queries, said.jobs)
  }
  async function askOurselves() {
    asking = true
    const answer = client.GET('/api/jobs', { signal: AbortSignal.timeout(PATIENCE) })
    await ask(answer).then(
      (jobs) => hear({ jobs }),
      () => undefined,
    )
    asking = false
  }
  new BroadcastChannel(CHANNEL).onmessage = (event: MessageEvent<Heard>) => hear(event.data)
  if ('SharedWorker' in window)
    new SharedWorker(new URL('./stream.ts', import.meta.url), { type: 'module', name: CHANNEL })
  setInterval(() => {
    const silence = Date.now() - heard
    if (silence > SILENCE && !asking) askOurselves()
    if (silence > PATIENCE) gone.value = true
  }, AGAIN)
  askOurselves()
}

export const cancelJob = (id: number) =>
  ask(client.POST('/api/jobs/{job_id}/cancel', { params: { path: { job_id: id } } }))
/** Serve a job that waits before all others. */
export const putFirst = (id: number) =>
  ask(client.POST('/api/jobs/{job_id}/first', { params: { path: { job_id: id } } }))
export const continueJob = (id: number) =>
  ask(client.POST('/api/jobs/{job_id}/continue', { params: { path: { job_id: id } } })).catch((fault: Error) =>
    say(fault.message, 'bad'),
  )
