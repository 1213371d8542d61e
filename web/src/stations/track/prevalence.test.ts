import { describe, expect, it } from 'vitest'

import { difference, placeOf, runs, type Cell, type Table } from './prevalence'

const cell = (documents: number, mean: number): Cell => ({
  documents,
  values: documents ? [{ mean, low: mean - 0.02, high: mean + 0.02 }] : [],
})

describe('runs', () => {
  it('breaks where a period has no documents', () => {
    expect(runs([cell(1, 0.1), cell(2, 0.1), cell(0, 0), cell(3, 0.2)])).toEqual([[0, 1], [3]])
  })
})

describe('placeOf', () => {
  it('counts periods from the first', () => {
    expect(placeOf('2014-07-01', ['2013', '2014', '2015'])).toBe(1.5)
    expect(placeOf('2014-04-01', ['2013-Q2', '2013-Q3', '2013-Q4', '2014-Q1', '2014-Q2'])).toBe(4)
    expect(placeOf('2014-01-20', ['2013-12', '2014-01'])).toBe(1)
    expect(placeOf('2010-01-01', ['2013'])).toBeNull()
  })
})

describe('difference', () => {
  const table = {
    groups: ['a', 'b'],
    periods: ['2013', '2014'],
    cells: [cell(10, 0.1), cell(10, 0.3), cell(10, 0.1), cell(0, 0)],
  } as unknown as Table
  it('sets a period against the same group’s others', () => {
    const found = difference(table, 0, 'a', '2014')
    expect(found?.here.mean).toBeCloseTo(0.3)
    expect(found?.rest?.mean).toBeCloseTo(0.1)
    expect(found?.apart).toBe(true)
  })
  it('sets a group against the others, with narrower pooled intervals', () => {
    const found = difference(table, 0, 'a', null)
    expect(found?.here).toMatchObject({ n: 20 })
    expect(found?.here.mean).toBeCloseTo(0.2)
    expect((found?.here.high ?? 0) - (found?.here.low ?? 0)).toBeCloseTo(0.04 / Math.SQRT2)
    expect(found?.rest?.n).toBe(10)
  })
  it('has nothing to say of an empty cell', () => {
    expect(difference(table, 0, 'b', '2014')).toBeNull()
  })
})
