import { describe, expect, it } from 'vitest'

import { readCell, writeCell } from './cells'
import { brief, five } from './numbers'
import { guessed, strung, type Word } from './strung'
import { inView, scrolledTo } from './window'

/** Numbers that look drawn at random and are the same each time. */
function drawn(seed: number) {
  let state = seed
  return () => (state = (state * 16807) % 2147483647) / 2147483647
}

describe('words on threads', () => {
  it('never lie over each other nor beyond the edge, and keep their order', () => {
    for (let seed = 1; seed < 60; seed++) {
      const next = drawn(seed)
      const width = 160 + Math.floor(900 * next())
      const words: Word[] = Array.from({ length: Math.floor(90 * next()) }, (_, at) => ({
        key: String(at),
        label: 'a'.repeat(1 + Math.floor(30 * next() ** 3)),
        weight: next() ** 4 * 1000,
      }))
      const found = strung(words, width)
      expect(found.words.map((word) => word.key)).toEqual(words.map((word) => word.key))
      const boxes = found.words.map((word) => ({ ...word, top: word.y - word.size, right: word.x + word.width }))
      boxes.forEach((a, at) => {
        expect(a.right).toBeLessThanOrEqual(width + 0.001)
        expect(a.top).toBeGreaterThanOrEqual(0)
        expect(a.y).toBeLessThan(found.height)
        for (const b of boxes.slice(at + 1)) {
          const apart = a.right <= b.x || b.right <= a.x || a.y <= b.top || b.y <= a.top
          expect(apart).toBe(true)
        }
      })
    }
  })
  it('have letters whose height goes with the square root of the weight', () => {
    const [a, b] = strung([{ key: 'a', label: 'quay', weight: 100 }, { key: 'b', label: 'tide', weight: 25 }], 900).words // prettier-ignore
    expect(a.size / b.size).toBeCloseTo(2)
    expect(guessed('quay', 10)).toBeCloseTo(22.4)
  })
  it('are nothing where there are none', () => expect(strung([], 400).words).toEqual([]))
})

it('what is in view of a long list', () => {
  expect(inView(0, 100, 25, 1000, 2)).toEqual({ first: 0, count: 6 })
  expect(inView(2500, 100, 25, 1000, 2)).toEqual({ first: 98, count: 8 })
  expect(inView(24_900, 100, 25, 1000, 2)).toEqual({ first: 994, count: 6 })
  expect(inView(0, 100, 25, 0)).toEqual({ first: 0, count: 0 })
  expect([scrolledTo(3, 25, 100, 200), scrolledTo(20, 25, 0, 200), scrolledTo(5, 25, 100, 200)]).toEqual([75, 325, 100])
})

it('a cell in the address', () => {
  expect(readCell(writeCell({ document: 11, term: 'sea wall' }))).toEqual({ document: 11, term: 'sea wall' })
  expect(readCell('nothing')).toBeNull()
})

it('weights in a few letters', () => {
  expect([five(2.0794415), five(0.00031), five(0.000012), five(0), five(25488), five(-1.5)]).toEqual(
    ['2.0794', '0.00031', '1.20e−5', '0', '25\u202f488', '−1.5'], // prettier-ignore
  )
  expect([brief(3), brief(12_400), brief(2.0794), brief(31.26), brief(0.0312), brief(412.7)]).toEqual(
    ['3', '12k', '2.08', '31.3', '.031', '413'], // prettier-ignore
  )
})
