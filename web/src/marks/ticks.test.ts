import { scaleLinear } from 'd3-scale'
import { expect, test } from 'vitest'

import { distinctTicks } from './ticks'

const whole = (value: number) => value.toFixed(0)

test('two ticks never read the same', () => {
  for (let most = 1; most <= 300; most++) {
    const ticks = distinctTicks(scaleLinear([0, most], [0, 100]), 3, whole)
    expect(new Set(ticks.map(whole)).size).toBe(ticks.length)
    expect(ticks.length).toBeGreaterThan(1)
  }
})

test('where they differ, there are as many as wanted', () => {
  expect(distinctTicks(scaleLinear([0, 2], [0, 100]), 3, String)).toEqual([0, 0.5, 1, 1.5, 2])
  expect(distinctTicks(scaleLinear([0, 2], [0, 100]), 3, whole)).toEqual([0, 1, 2])
})
