import { describe, expect, it } from 'vitest'

import { filterOf, narrows, onlyHere, type Chosen } from './filter'

const nothing: Chosen = { find: '', expression: false, filter: [], language: [] }

describe('what narrows the list', () => {
  it('is nothing until something is asked for', () => {
    expect(narrows(nothing)).toBe(false)
    expect(narrows({ ...nothing, expression: true })).toBe(false)
    for (const part of [
      { find: 'ice' },
      { filter: ['a:b'] },
      { language: ['German'] },
      { flag: 'near' },
      { words_to: 0 },
    ])
      expect(narrows({ ...nothing, ...part })).toBe(true)
  })

  it('becomes a step with the values of each field together', () => {
    const step = filterOf({ ...nothing, filter: ['harbour:Quellan', 'time:10:30', 'harbour:Kelpwick'] }, true)
    expect(step.where).toEqual({ harbour: ['Quellan', 'Kelpwick'], time: ['10:30'] })
    expect(step.out).toBe(true)
  })

  it('is a search or a regular expression, never both', () => {
    expect(filterOf({ ...nothing, find: 'ice' }, false)).toMatchObject({ search: 'ice', expression: '' })
    const expression = filterOf({ ...nothing, find: 'i.e', expression: true }, false)
    expect(expression).toMatchObject({ search: '', expression: 'i.e' })
  })

  it('keeps open ends open', () => {
    expect(filterOf({ ...nothing, date_from: '2014-03', words_from: 5 }, false)).toMatchObject({
      date_from: '2014-03',
      date_to: '',
      words_from: 5,
      words_to: null,
    })
  })

  it('names a flag where a step can, and asks for the documents where only this corpus knows', () => {
    expect(filterOf({ ...nothing, flag: 'undated' }, true).undated).toBe(true)
    expect(onlyHere({ ...nothing, flag: 'garbled' })).toBeUndefined()
    expect(onlyHere({ ...nothing, flag: 'near', evidence: 'topic=3' })).toEqual({
      query: { flag: 'near', evidence: 'topic=3' },
      said: 'near and the evidence set',
    })
  })
})
