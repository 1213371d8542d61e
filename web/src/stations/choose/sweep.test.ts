import { describe, expect, it } from 'vitest'

import {
  atWork,
  chanceBand,
  parseNumbers,
  parseValues,
  shown,
  spreads,
  type Chance,
  type Fit,
  type Measure,
} from './sweep'

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

it('reads values of a setting as what they are', () => {
  expect(parseValues('0.1, .5; open')).toEqual([0.1, 0.5, null])
  expect(parseValues('nndsvd, yes')).toEqual(['nndsvd', true])
  expect(parseValues(' , ')).toEqual([])
})

it('tells of fits at work but for those that are there', () => {
  const there = [{ settings: { topics: 4, seed: 1 } }] as unknown as Fit[]
  const tasks = [
    { fit: { topics: 4, seed: 1 }, measured: { coherence: 0.1 } },
    { fit: { topics: 4, seed: 2 }, measured: { coherence: 0.2 } },
    { fit: { topics: 5, seed: 2 } },
    { phase: 'Indexing' },
  ]
  expect(atWork(tasks, there)).toEqual([{ topics: 4, seed: 2, measures: { coherence: 0.2 } }])
})

it('shows the measures that are asked for, or the usual ones', () => {
  const all = ['coherence', 'c_v', 'exclusivity', 'stability', 'held_out', 'settled'].map((key) => ({ key }) as Measure)
  expect(shown(all, [], 'c_v').map((each) => each.key)).toEqual(['c_v', 'exclusivity', 'stability', 'held_out'])
  expect(shown(all, ['settled', 'coherence'], 'c_v').map((each) => each.key)).toEqual(['coherence', 'settled'])
})

it('draws the band of dealt-out words over their counts', () => {
  const chance = [
    { topics: 8, seed: 1, measures: { coherence: -0.1 } },
    { topics: 8, seed: 2, measures: { coherence: 0 } },
  ] as Chance[]
  expect(chanceBand(chance, 'coherence')).toEqual([{ topics: 8, mean: -0.05, low: -0.1, high: 0 }])
})
