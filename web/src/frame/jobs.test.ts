import { describe, expect, it } from 'vitest'

import type { Job } from '@/api/client'

import { hasStopped, isAtWork, movedOn } from './jobs'

const job = (id: number, state: string, finished = 0) =>
  ({ id, state, done: finished, progress: state === 'running' ? { finished } : null }) as unknown as Job

describe('jobs', () => {
  it('have moved on when their state or what they finished is another', () => {
    const before = [job(1, 'done', 4), job(2, 'running', 1), job(3, 'running', 2)]
    const next = [job(1, 'done', 4), job(2, 'running', 2), job(3, 'done', 2), job(4, 'queued')]
    expect(movedOn(before, next).map((each) => each.id)).toEqual([2, 3, 4])
    expect(movedOn(next, next)).toEqual([])
  })
  it('of the first list are no news, the first jobs after an empty one are', () => {
    expect(movedOn(undefined, [job(1, 'failed')])).toEqual([])
    expect(movedOn([], [job(1, 'done')]).map((each) => each.id)).toEqual([1])
  })
  it('are at work, done, or to be continued', () => {
    const states = ['queued', 'running', 'done', 'failed', 'cancelled', 'interrupted']
    expect(states.map((state) => [isAtWork(job(1, state)), hasStopped(job(1, state))].map(Number).join(''))).toEqual([
      '10',
      '10',
      '00',
      '01',
      '01',
      '01',
    ])
  })
})
