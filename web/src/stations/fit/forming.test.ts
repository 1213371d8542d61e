import { describe, expect, it } from 'vitest'

import { heldOut, ranks } from './forming'

describe('places of topics as they form', () => {
  it('swap where one outgrows another', () => {
    expect(
      ranks([
        [0.2, 0.5, 0.3],
        [0.4, 0.25, 0.35],
      ]),
    ).toEqual([
      [2, 0, 1],
      [0, 2, 1],
    ])
  })
  it('stay in their order where all are equal', () => {
    expect(ranks([[0.25, 0.25, 0.25, 0.25]])).toEqual([[0, 1, 2, 3]])
    expect(ranks([])).toEqual([])
  })
  it('are each taken once', () => {
    const sizes = Array.from({ length: 60 }, (_, at) => (at * 7919) % 61)
    expect([...ranks([sizes])[0]].sort((a, b) => a - b)).toEqual(sizes.map((_, at) => at))
  })
})

describe('the column of documents held out', () => {
  const watches = [
    { title: 'loss', unit: 'number' as const, held_out: false },
    { title: 'foretold', unit: 'nats a token' as const, held_out: true },
  ]
  it('is found by what the method says of it', () => {
    expect(heldOut([[5, 0.1, -6]], watches)).toBe(2)
  })
  it('is none where the trace has no such column, or the method none', () => {
    expect(heldOut([[5, 0.1]], watches)).toBe(0)
    expect(heldOut([], watches)).toBe(0)
    expect(heldOut([[5, 0.1, -6]], watches.slice(0, 1))).toBe(0)
  })
})
