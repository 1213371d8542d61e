import { describe, expect, it } from 'vitest'

import { parseNumbers, spreads, type Fit } from './sweep'

describe('parseNumbers', () => {
  it('reads lists and ranges, in order and without repeats', () => {
    expect(parseNumbers('8, 4 6;4')).toEqual([4, 6, 8])
    expect(parseNumbers('10-13, 2')).toEqual([2, 10, 11, 12, 13])
  })
  it('gives nothing for what is no number', () => {
    expect(parseNumbers('four')).toEqual([])
    expect(parseNumbers('')).toEqual([])
  })
})

describe('spreads', () => {
  it('takes mean and range over the seeds of each count', () => {
    const fit = (topics: number, coherence: number) =>
      ({ settings: { topics }, measures: { coherence, stability: null } }) as unknown as Fit
    expect(spreads([fit(6, 0.3), fit(4, 0.1), fit(4, 0.2)], 'coherence')).toEqual([
      { topics: 4, mean: 0.15000000000000002, low: 0.1, high: 0.2 },
      { topics: 6, mean: 0.3, low: 0.3, high: 0.3 },
    ])
    expect(spreads([fit(6, 0.3)], 'stability')).toEqual([])
  })
})
