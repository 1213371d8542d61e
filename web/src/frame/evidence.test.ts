import { describe, expect, it } from 'vitest'

import type { EvidenceRequest } from '@/api/evidence'

import { readRequest, writeRequest } from './evidence'
import { settingText } from './plies'

describe('a request in the address', () => {
  const requests: EvidenceRequest[] = [
    { term: 'engin' },
    { term: 'outer breakwat' },
    { topic: 0 },
    { topic: 3, field: 'harbour', value: 'Little Marre', period: 'quarter', at: '2014-Q1' },
    { field: 'a=b&c', value: 'x&y=z %' },
    { words_from: 0, words_to: 10 },
    { removed_by: 'stop-words' },
  ]
  it('is written the same again after it was read', () => {
    for (const request of requests) expect(writeRequest(readRequest(writeRequest(request)))).toBe(writeRequest(request))
    expect(readRequest(writeRequest(requests[4]))).toEqual(requests[4])
  })
  it('leaves out what is not set', () => {
    expect(writeRequest({ topic: 2, field: undefined })).toBe('topic=2')
    expect(readRequest('')).toEqual({})
  })
  it('tells different requests apart', () => {
    expect(new Set(requests.map(writeRequest)).size).toBe(requests.length)
  })
})

describe('settings', () => {
  it('writes settings as words', () => {
    expect([true, false, null, [], ['a', 'b'], 3].map(settingText)).toEqual([
      'on',
      'off',
      'not set',
      'none',
      'a, b',
      '3',
    ])
  })
})
