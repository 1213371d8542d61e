import type { ScaleLinear } from 'd3-scale'

/** About as many ticks as wanted; fewer where two of them would read the same. */
export function distinctTicks(scale: ScaleLinear<number, number>, wanted: number, say: (value: number) => string) {
  for (let fewer = wanted; fewer > 1; fewer--) {
    const ticks = scale.ticks(fewer)
    if (new Set(ticks.map(say)).size === ticks.length) return ticks
  }
  return scale.ticks(1)
}

/** A label at a place along an axis. */
export interface Place {
  at: number
  label: string
  strong?: boolean
}

/** Every so manyth place, so that each has `room`; none whose label would reach beyond `right`. */
export function thinned(places: Place[], room: number, right = Infinity): Place[] {
  const apart = places.length > 1 ? Math.abs(places[1].at - places[0].at) : Infinity
  const every = Math.max(1, Math.ceil(room / Math.max(apart, 1e-9)))
  return places.filter((place, number) => number % every === 0 && place.at + room / 2 - 6 <= right)
}
