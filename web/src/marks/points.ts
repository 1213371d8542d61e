import type { EvidenceRequest } from '@/api/evidence'

/** A point of a chart: where it is, how it looks, what it says and stands for. */
export interface Point {
  key: string
  x: number
  y: number
  said: string
  colour: string
  radius?: number
  faint?: boolean
  /** Drawn as a ring: there is something to say against it. */
  hollow?: boolean
  evidence?: EvidenceRequest
  selected?: boolean
}

/** More points than this are drawn on a canvas: each as an element of its own would be slow. */
export const MOST_ELEMENTS = 400
export const REACH = 12

/** The point nearest to a place, within reach; null where there is none. */
export function nearest(points: Point[], x: number, y: number, reach = REACH): Point | null {
  let best: Point | null = null
  let least = reach * reach
  for (const point of points) {
    const distance = (point.x - x) ** 2 + (point.y - y) ** 2
    if (distance <= least) [best, least] = [point, distance]
  }
  return best
}
