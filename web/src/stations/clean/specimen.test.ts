import { describe, expect, it } from 'vitest'

import type { Schemas } from '@/api/client'

import { differing, said } from './specimen'

const piece = (text: string, kind = 'kept', more: object = {}) =>
  ({ text, kind, form: null, by: null, weight: 0, key: null, why: '', trail: [], ...more }) as Schemas['TokenSegment']

describe('said', () => {
  it('tells each pass and the end', () => {
    const trail = [
      { by: 'case', form: 'moorings' },
      { by: 'word forms', form: 'moor' },
    ]
    expect(said(piece('Moorings', 'changed', { trail, form: 'moor' }))).toBe(
      'Moorings → moorings (case) → moor (word forms)',
    )
    expect(said(piece('the', 'removed', { by: 'stop words', why: 'English list' }))).toBe(
      'the → removed by stop words, English list',
    )
    expect(said(piece('gale'))).toBe('gale: kept as it stands')
    expect(said(piece(' ', 'plain'))).toBe('')
  })
})

describe('differing', () => {
  it('finds tokens of another fate, form or cut', () => {
    const left = [
      piece('the', 'removed'),
      piece(' ', 'plain'),
      piece('sea-wall'),
      piece(' ', 'plain'),
      piece('gales', 'changed', { form: 'gale' }),
    ]
    const right = [
      piece('the'),
      piece(' ', 'plain'),
      piece('sea'),
      piece('-', 'plain'),
      piece('wall'),
      piece(' ', 'plain'),
      piece('gales', 'changed', { form: 'gale' }),
    ]
    expect(differing(left, right)).toEqual([new Set([0, 2]), new Set([0, 2, 4])])
  })
})
