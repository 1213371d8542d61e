import { describe, expect, it } from 'vitest'

import type { PrevalenceCell as Cell, PrevalenceTable as Table } from '@/api/prevalence'

import { cellAt, placeOf } from './prevalence'

const cell = (documents: number, mean: number): Cell => ({
  documents,
  values: documents ? [{ mean, low: mean - 0.02, high: mean + 0.02 }] : [],
})

describe('placeOf', () => {
  it('counts periods from the first', () => {
    expect(placeOf('2014-07-01', ['2013', '2014', '2015'])).toBe(1.5)
    expect(placeOf('2014-04-01', ['2013-Q2', '2013-Q3', '2013-Q4', '2014-Q1', '2014-Q2'])).toBe(4)
    expect(placeOf('2014-01-20', ['2013-12', '2014-01'])).toBe(1)
    expect(placeOf('1805-01-01', ['1790s', '1800s'])).toBe(1.5)
    expect(placeOf('1825-01-01', ['1750–1799', '1800–1849'])).toBe(1.5)
    expect(placeOf('2010-01-01', ['2013'])).toBeNull()
  })
})

describe('cellAt', () => {
  const cells = [cell(10, 0.1), cell(10, 0.3), cell(10, 0.1), cell(0, 0)]
  const both = { groups: ['a', 'b'], periods: ['2013', '2014'], cells } as unknown as Table
  const groups = { groups: ['a', 'b'], periods: [], cells } as unknown as Table
  it('finds the cell of a group and period', () => {
    expect(cellAt(both, 'a', '2014')?.values[0].mean).toBeCloseTo(0.3)
    expect(cellAt(both, 'b', '2013')?.values[0].mean).toBeCloseTo(0.1)
    expect(cellAt(groups, 'b', null)?.values[0].mean).toBeCloseTo(0.3)
  })
  it('never stands for several cells or an empty one', () => {
    expect(cellAt(both, 'a', null)).toBeNull()
    expect(cellAt(both, null, '2014')).toBeNull()
    expect(cellAt(both, 'b', '2014')).toBeNull()
    expect(cellAt(both, 'c', '2014')).toBeNull()
    expect(cellAt(groups, 'a', '2014')).toBeNull()
  })
})
