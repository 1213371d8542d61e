import { describe, expect, it } from 'vitest'

import { colour, DASHES, DYES, dyeOf, STITCH_PATHS, STITCHES, stitchOf } from './dyes'
import { count, counted, day, decimal, duration, FIRST_DAY, LAST_DAY, percent, period, size } from './format'
import { csvCell, toCsv } from './save'

describe('numbers', () => {
  it('groups thousands with a thin space that does not break', () => {
    expect(count(2412)).toBe('2\u202f412')
    expect(count(1234567.4)).toBe('1\u202f234\u202f567')
    expect(count(7)).toBe('7')
  })
  it('names bytes', () => {
    expect([size(812), size(3400), size(12_400_000)]).toEqual(['812 bytes', '3.4\u202fkB', '12\u202fMB'])
  })
  it('agrees with its noun', () => {
    expect(counted(1, 'entry', 'entries')).toBe('1 entry')
    expect(counted(0, 'topic')).toBe('0 topics')
  })
  it('writes shares with a unit and decimals with a true minus', () => {
    expect(percent(0.0937)).toBe('9.4\u202f%')
    expect(percent(1, 0)).toBe('100\u202f%')
    expect([percent(0.9996), percent(0.99996), percent(0.0004, 0), percent(0), percent(1e-9)]).toEqual(
      ['99.96', '99.996', '0.04', '0.0', '0.0000'].map((told) => `${told}\u202f%`),
    )
    expect(decimal(-0.123)).toBe('−0.12')
  })
})

describe('times', () => {
  it('says durations as a person does', () => {
    expect([0.2, 59.6, 89, 300].map(duration)).toEqual(['under 1 s', '60 s', '89 s', '5 min'])
  })
  it('names periods and days', () => {
    expect(['2014', '2014-Q1', '2014-01', '2014-12'].map(period)).toEqual(['2014', 'Q1 2014', 'Jan 2014', 'Dec 2014'])
    expect(day('2014-01-04')).toBe('4 Jan 2014')
    expect(['2014-W03', '2014-01-14', '1906-02…2013-12'].map(period)).toEqual(['week 3, 2014', '14 Jan 2014', '…'])
    expect(period('2014-Q1..2014-Q3')).toBe('Q1 2014 to Q3 2014')
    expect([`${FIRST_DAY}..2014-01-01`, `2014-01-01..${LAST_DAY}`].map(period)).toEqual([
      'to 1 Jan 2014',
      'from 1 Jan 2014',
    ])
  })
})

describe('dyes and stitches', () => {
  it('gives 192 topics pairs of their own', () => {
    const pairs = new Set(Array.from({ length: DYES * STITCHES }, (_, at) => `${dyeOf(at)} ${stitchOf(at)}`))
    expect(pairs.size).toBe(192)
  })
  it('never gives neighbours the same dye or the same stitch', () => {
    for (let at = 0; at < 200; at++) {
      expect(dyeOf(at)).not.toBe(dyeOf(at + 1))
      if ((at + 1) % DYES) expect(stitchOf(at)).not.toBe(stitchOf(at + 1))
    }
  })
  it('has a path and a dash for every stitch, all different', () => {
    expect(new Set(STITCH_PATHS).size).toBe(STITCHES)
    expect(new Set(DASHES).size).toBe(STITCHES)
    expect(colour(25)).toBe('var(--dye-1)')
  })
})

describe('tables as files', () => {
  it('quotes what needs it and defuses what a spreadsheet would run', () => {
    expect(['a', 'a,b', 'say "so"', 'two\nlines', '=1+1', '-x', null, -2.5].map((cell) => csvCell(cell))).toEqual([
      'a',
      '"a,b"',
      '"say ""so"""',
      '"two\nlines"',
      "'=1+1",
      "'-x",
      '',
      '-2.5',
    ])
  })
  it('ends every row with carriage return and line feed', () => {
    expect(toCsv(['x', 'y'], [[1, 'a']])).toBe('x,y\r\n1,a\r\n')
  })
})
