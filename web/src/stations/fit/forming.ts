import type { Schemas } from '@/api/client'

/** The place of every topic by its size at each time, the largest at 0; of equals the first comes first. */
export const ranks = (sizes: number[][]): number[][] =>
  sizes.map((each) => {
    const place = new Array<number>(each.length)
    each
      .map((_, topic) => topic)
      .sort((a, b) => each[b] - each[a] || a - b)
      .forEach((topic, rank) => (place[topic] = rank))
    return place
  })

/** The column of a trace that is of documents held out; 0 where there is none. */
export function heldOut(trace: number[][], watches: Schemas['Watched'][]): number {
  const column = watches.findIndex((each) => each.held_out) + 1
  return column < (trace[0]?.length ?? 0) ? column : 0
}
