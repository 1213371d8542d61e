import { describe, expect, it } from 'vitest'

import { hang, sizeOf } from './cloud'

const words = Array.from({ length: 30 }, (_, at) => ({
  display: 'harbour'.slice(0, 3 + (at % 5)),
  share: 1 / (at + 1),
  own: 0.5,
}))

describe('a cloud on threads', () => {
  it('hangs every word once, none beside the threads nor over another', () => {
    const { hung, lines } = hang(words, 240)
    expect(hung.length).toBe(words.length)
    expect(new Set(hung.map((each) => each.word))).toEqual(new Set(words))
    for (const each of hung) {
      expect(each.x).toBeGreaterThanOrEqual(0)
      expect(each.x + each.width).toBeLessThanOrEqual(240.001)
      expect(each.line).toBeLessThan(lines.length)
      for (const other of hung)
        if (other !== each && other.line === each.line)
          expect(each.x + each.width <= other.x + 0.001 || other.x + other.width <= each.x + 0.001).toBe(true)
    }
  })
  it('makes the strongest the largest, by the root of the share', () => {
    expect(sizeOf(1, 1)).toBeGreaterThan(sizeOf(0.25, 1))
    expect((sizeOf(0.25, 1) - sizeOf(0, 1)) / (sizeOf(1, 1) - sizeOf(0, 1))).toBeCloseTo(0.5)
    expect(hang([], 100)).toEqual({ hung: [], lines: [] })
  })
  it('keeps a word that is longer than the threads', () => {
    const [only] = hang([{ display: 'x'.repeat(200), share: 1, own: 1 }], 100).hung
    expect(only.width).toBe(100)
  })
})
