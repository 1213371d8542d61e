import { expect, it } from 'vitest'

import { isAccident, lasting, ordered, type Column, type Ribbon } from './between'

const column = (topics: number) =>
  ({ of: Array.from({ length: topics }, (_, topic) => ({ topic })) }) as unknown as Column
const ribbon = (was: number, now: number, of_now = 1) => ({ column: 0, was, now, of_now }) as Ribbon

it('puts topics at the height of what they came from, new ones last', () => {
  const order = ordered([column(3), column(4)], [ribbon(2, 0), ribbon(0, 1), ribbon(0, 2, 0.6), ribbon(1, 2, 0.2)])
  expect(order).toEqual([
    [0, 1, 2],
    [1, 2, 0, 3],
  ])
})

it('says how far a topic lasts', () => {
  const topic = (found: number, fits: number, since: number | null) =>
    ({ found, fits, since, empty: false }) as unknown as Parameters<typeof lasting>[0]
  expect(lasting(topic(14, 15, 10))).toBe('in 14 of 15 other fits from 10 topics on')
  expect(lasting(topic(0, 20, null))).toBe('in no other fit')
  expect(isAccident(topic(2, 20, null))).toBe(true)
  expect(isAccident(topic(0, 0, null))).toBe(false)
})
