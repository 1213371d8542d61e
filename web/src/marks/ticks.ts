import type { ScaleLinear } from 'd3-scale'

/** About as many ticks as wanted; fewer where two of them would read the same. */
export function distinctTicks(scale: ScaleLinear<number, number>, wanted: number, say: (value: number) => string) {
  for (let fewer = wanted; fewer > 1; fewer--) {
    const ticks = scale.ticks(fewer)
    if (new Set(ticks.map(say)).size === ticks.length) return ticks
  }
  return scale.ticks(1)
}
