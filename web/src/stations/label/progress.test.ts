import { describe, expect, it } from 'vitest'

import { nextToRead, progressOf } from './progress'

const topic = (at: number, rest = {}) => ({
  topic: at,
  confirmed: false,
  later: false,
  set_aside: false,
  empty: false,
  ...rest,
})

describe('the next topic to read', () => {
  it('goes round, and comes to those put off last', () => {
    const topics = [topic(0), topic(1, { confirmed: true }), topic(2, { later: true }), topic(3)]
    expect(nextToRead(topics, 0)).toBe(3)
    expect(nextToRead(topics, 3)).toBe(0)
    expect(nextToRead([topics[1], { ...topics[2], topic: 1 }], 0)).toBe(1)
  })
  it('is none where all are named, set aside or empty', () => {
    expect(
      nextToRead([topic(0, { confirmed: true }), topic(1, { set_aside: true }), topic(2, { empty: true })], 0),
    ).toBe(undefined)
  })
})

it('tells how far one is', () => {
  const topics = [topic(0, { confirmed: true }), topic(1, { later: true }), topic(2), topic(3, { empty: true })]
  expect(progressOf(topics)).toEqual({ of: 4, named: 1, later: 1, left: 1 })
})
