import { describe, expect, it } from 'vitest'

import type { Holds } from '@/api/holds'

import { left, letter } from './holds'

describe('statements', () => {
  it('are called by letters that never come twice', () => {
    const names = Array.from({ length: 800 }, (_, at) => letter(at))
    expect(names.slice(0, 3)).toEqual(['a', 'b', 'c'])
    expect(names[26]).toBe('aa')
    expect(names[701]).toBe('zz')
    expect(new Set(names).size).toBe(800)
  })

  it('count what is left to do of the choices that are ticked alone', () => {
    const mark = (key: string, verdict: string | null) => ({ key, verdict })
    const found = {
      pins: [{ marks: [mark('seed-3', null), mark('topics-9', 'holds')] }, { marks: [mark('seed-3', 'lost')] }],
      kinds: [{ choices: [{ key: 'seed-3', missing: 2 }] }, { choices: [{ key: 'topics-9', missing: 5 }] }],
    } as unknown as Holds
    expect(left(found, new Set(['seed-3']))).toEqual({ results: 2, tests: 1 })
    expect(left(found, new Set())).toEqual({ results: 0, tests: 0 })
  })
})
