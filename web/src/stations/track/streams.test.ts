import { expect, test } from 'vitest'

import type { StreamTopic } from '@/api/apart'

import { GAP, layOut } from './streams'

const topic = (period: number, own: number, share: number, whole = own): StreamTopic => ({
  ...{ period, own, share, whole, title: '', words: [], tokens: 1000 * share, shown: true },
})
const thread = (before: number, after: number, of_before: number, of_after: number) => ({
  ...{ period: 0, before, after, of_before, of_after, held: 1, sure: true, times: 1, grew: false },
})

test('bands are as high as shares and stand in the order of the fit', () => {
  const { bands } = layOut({ topics: [topic(0, 0, 0.25, 1), topic(0, 1, 0.75, 0)], threads: [] }, 100 + GAP)
  expect(bands.map((each) => [each.topic.own, each.y, each.height])).toEqual([
    [1, 0, 75],
    [0, 75 + GAP, 25],
  ])
})

test('the threads of a split leave one band below each other', () => {
  const topics = [topic(0, 0, 1), topic(1, 0, 0.5), topic(1, 1, 0.5)]
  const { ribbons } = layOut({ topics, threads: [thread(0, 1, 0.5, 1), thread(0, 0, 0.5, 1)] }, 200 + GAP)
  expect(ribbons.map((each) => each.thread.after)).toEqual([0, 1])
  const starts = ribbons.map((each) => Number(each.path.match(/^M[\d.]+,([\d.]+)/)?.[1]))
  expect(starts[0]).toBe(0)
  expect(starts[1]).toBeCloseTo((200 + GAP) / 2)
})

test('a thread to a topic that is not there is left out', () => {
  expect(layOut({ topics: [topic(0, 0, 1)], threads: [thread(0, 3, 1, 1)] }, 100).ribbons).toEqual([])
})
