import { describe, expect, it } from 'vitest'

import type { PrevalenceCell as Cell, PrevalenceTable as Table } from '@/api/prevalence'

import { cellAt, chance, estimate, placeOf, points, resting } from './prevalence'

const cell = (documents: number, mean: number): Cell => ({
  documents,
  units: documents,
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
    expect(placeOf('1950-01-01', ['0001', '0002…2013', '2014'])).toBe(1.5)
    expect(placeOf('2014-07-01', ['0001', '0002…2013', '2014'])).toBe(2.5)
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

describe('sentences', () => {
  it('say an estimate with its interval, or that there is none', () => {
    expect(estimate({ mean: 0.1, low: 0.08, high: 0.13 }, 6)).toBe('10.0\u202f% (8.0\u202f% to 13.0\u202f%)')
    expect(estimate({ mean: 0.1, low: null, high: null }, 6)).toBe('10.0\u202f% (no interval: under 6 units)')
  })
  it('say differences in points and how likely chance is', () => {
    expect([points(0.059), points(-0.004)]).toEqual(['+5.9', '−0.4'])
    expect([chance(0.0004), chance(0.0342)]).toEqual(['p < 0.001', 'p 0.034'])
    expect([resting(cell(10, 0.1)), resting({ ...cell(10, 0.1), units: 4 })]).toEqual(['n 10', 'n 10 of 4 units'])
  })
})
