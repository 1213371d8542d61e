import { describe, expect, it } from 'vitest'

import type { PeriodOf, PrevalenceCell as Cell, PrevalenceTable as Table } from '@/api/prevalence'

import { cellAt, chance, estimate, placeOf, points, resting, shareOf, stretch } from './prevalence'

const cell = (documents: number, mean: number): Cell => ({
  documents,
  units: documents,
  values: documents ? [{ mean, low: mean - 0.02, high: mean + 0.02 }] : [],
  smooth: [],
  covered: 1,
})

const year = (of: number): PeriodOf => {
  const name = String(of).padStart(4, '0')
  return { name, first: `${name}-01-01`, last: `${name}-12-31`, partial: '' }
}

describe('placeOf', () => {
  it('counts periods from the first', () => {
    expect(placeOf('2014-07-02', [year(2013), year(2014)])).toBeCloseTo(1.5, 2)
    expect(placeOf('2014-01-01', [year(2013), year(2014)])).toBe(1)
    expect(placeOf('2010-01-01', [year(2013)])).toBeNull()
    const gap = { name: '0002…2013', first: '0002-01-01', last: '2013-12-31', partial: '' }
    expect(placeOf('1950-01-01', [year(1), gap, year(2014)])).toBe(1.5)
    const cut = { name: '2014-02-01..9999-12-31', first: '2014-02-01', last: '9999-12-31', partial: '' }
    expect([placeOf('2014-02-01', [cut]), placeOf('2016-02-01', [cut])]).toEqual([0, 0.5])
  })
})

describe('cellAt', () => {
  const cells = [cell(10, 0.1), cell(10, 0.3), cell(10, 0.1), cell(0, 0)]
  const both = { groups: ['a', 'b'], periods: [year(2013), year(2014)], cells } as unknown as Table
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

describe('stretch', () => {
  it('goes from the beginning of one period to the end of another', () => {
    expect([stretch('2014', '2016'), stretch('2014', '2014')]).toEqual(['2014..2016', '2014'])
    expect(stretch('2014-01-01..2014-05-31', '2014-06-01..9999-12-31')).toBe('2014-01-01..9999-12-31')
  })
})

describe('shareOf', () => {
  it('finds a topic among those that the table has, as counted or smoothed', () => {
    const table = { topics: [4, 7], smooth: [] } as unknown as Table
    const both = { ...cell(10, 0.1), values: [{ mean: 0.1 }, { mean: 0.2 }], smooth: [{ mean: 0.3 }] } as Cell
    expect(shareOf(table, both, 7)?.mean).toBe(0.2)
    expect(shareOf(table, both, 4, true)?.mean).toBe(0.3)
    expect(shareOf(table, both, 5)).toBeUndefined()
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
