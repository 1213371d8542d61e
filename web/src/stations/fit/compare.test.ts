import { describe, expect, it } from 'vitest'

import type { Schemas } from '@/api/client'

import { between, placed } from './compare'

const thread = (was: number, now: number, tokens: number): Schemas['ComparedThread'] => ({
  was,
  now,
  tokens,
  of_was: 1,
  of_now: 1,
  became: 'same',
})

describe('topics beside those of another fit', () => {
  it('stand beside what they came from', () => {
    const threads = [thread(0, 2, 10), thread(1, 0, 10), thread(2, 1, 10)]
    expect(placed(threads, [0, 1, 2], [0, 1, 2])).toEqual([2, 0, 1])
  })
  it('of two sources stand nearer the larger, and new ones come last in their order', () => {
    const threads = [thread(0, 4, 90), thread(3, 4, 10), thread(1, 2, 5), thread(2, 3, 5)]
    expect(placed(threads, [0, 1, 2, 3], [0, 1, 2, 3, 4])).toEqual([4, 2, 3, 0, 1])
  })
  it('follow the order in which the others stand', () => {
    expect(placed([thread(0, 0, 1), thread(1, 1, 1)], [1, 0], [0, 1])).toEqual([1, 0])
  })
  it('are joined from height to height', () => {
    expect(between(100, 10, 30)).toBe('M0 10C50 15 50 35 100 30')
  })
})
