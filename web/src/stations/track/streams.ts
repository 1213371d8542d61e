import { group, sum } from 'd3-array'

import type { StreamTopic, Streams } from '@/api/apart'

/** A topic in a period as a band: where it begins, and how high it is. */
export interface Band {
  topic: StreamTopic
  x: number
  y: number
  height: number
}
/** A thread as a closed path between two bands. */
export interface Ribbon {
  thread: Streams['threads'][number]
  path: string
  whole: number
}
export interface Layout {
  width: number
  height: number
  bands: Band[]
  ribbons: Ribbon[]
}
export const [BAND, GAP] = [9, 5]
/** From one period to the next: as wide as the page allows, and not too narrow to follow. */
export const columnWidth = (periods: number) => Math.min(110, Math.max(46, 560 / Math.max(1, periods - 1)))

const key = (period: number, own: number) => `${period} ${own}`

/**
 * Periods as columns, their topics as bands as high as their shares, ordered by the topic of the fit that they are
 * mostly of, so that what goes on stays at one height; threads leave and arrive in that order.
 */
export function layOut(found: Pick<Streams, 'topics' | 'threads'>, height: number): Layout {
  const column = columnWidth(new Set(found.topics.map((each) => each.period)).size)
  const bands = new Map<string, Band>()
  const columns = group(found.topics, (each) => each.period)
  for (const [period, topics] of columns) {
    const ordered = [...topics].sort((one, other) => one.whole - other.whole || one.own - other.own)
    const room = height - GAP * (ordered.length - 1)
    const total = sum(ordered, (each) => each.share) || 1
    let y = 0
    for (const topic of ordered) {
      const high = (topic.share / total) * room
      bands.set(key(period, topic.own), { topic, x: period * column, y, height: high })
      y += high + GAP
    }
  }
  const place = (period: number, own: number) => bands.get(key(period, own))
  const left = new Map<Band, number>()
  const right = new Map<Band, number>()
  const ribbons: Ribbon[] = []
  const ordered = found.threads
    .map((thread) => ({
      thread,
      one: place(thread.period, thread.before),
      other: place(thread.period + 1, thread.after),
    }))
    .sort((a, b) => (a.other?.y ?? 0) - (b.other?.y ?? 0) || (a.one?.y ?? 0) - (b.one?.y ?? 0))
  for (const { thread, one, other } of ordered) {
    if (!one || !other) continue
    const [from, to] = [thread.of_before * one.height, thread.of_after * other.height]
    const [top, bottom] = [one.y + (left.get(one) ?? 0), other.y + (right.get(other) ?? 0)]
    left.set(one, (left.get(one) ?? 0) + from)
    right.set(other, (right.get(other) ?? 0) + to)
    const [x0, x1] = [one.x + BAND, other.x]
    const middle = (x0 + x1) / 2
    ribbons.push({
      thread,
      whole: thread.of_before >= thread.of_after ? one.topic.whole : other.topic.whole,
      path:
        `M${x0},${top}C${middle},${top} ${middle},${bottom} ${x1},${bottom}L${x1},${bottom + to}` +
        `C${middle},${bottom + to} ${middle},${top + from} ${x0},${top + from}Z`,
    })
  }
  const width = Math.max(0, ...found.topics.map((each) => each.period)) * column + BAND
  return { width, height, bands: [...bands.values()], ribbons }
}
