import { scaleLinear } from 'd3-scale'
import { describe, expect, it } from 'vitest'

import { nearest, type Point } from './points'
import { distinctTicks, thinned } from './ticks'

const point = (key: string, x: number, y: number): Point => ({ key, x, y, said: key, colour: '' })

describe('points', () => {
  const points = [point('a', 0, 0), point('b', 10, 0), point('c', 11, 1)]
  it('are found by the place that is nearest, within reach', () => {
    expect(nearest(points, 9, 0)?.key).toBe('b')
    expect(nearest(points, 11, 3)?.key).toBe('c')
    expect(nearest(points, 30, 30)).toBeNull()
    expect(nearest([], 0, 0)).toBeNull()
  })
})

describe('axes', () => {
  it('never say the same twice', () => {
    const whole = (value: number) => value.toFixed(0)
    const ticks = distinctTicks(scaleLinear([0, 2], [0, 1]), 9, whole)
    expect(new Set(ticks.map(whole)).size).toBe(ticks.length)
  })
  it('leave out the labels that there is no room for', () => {
    const places = Array.from({ length: 10 }, (_, at) => ({ at: 20 * at, label: String(at) }))
    expect(thinned(places, 50).map((each) => each.label)).toEqual(['0', '3', '6', '9'])
    expect(thinned(places, 50, 150).map((each) => each.label)).toEqual(['0', '3', '6'])
    expect(thinned(places.slice(0, 1), 50)).toHaveLength(1)
  })
})
