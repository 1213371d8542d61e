import { expect, it } from 'vitest'

import { inside, nearer, PointIndex, readOutline, rounded, toSheet, written } from './scatter'

const random = (seed: number) => () => ((seed = (seed * 16807) % 2147483647) - 1) / 2147483646
const next = random(7)
const x = Array.from({ length: 3000 }, () => 20 * next() - 10)
const y = Array.from({ length: 3000 }, () => 20 * next() - 10)

it('finds the nearest of all within reach', () => {
  const index = new PointIndex(x, y, 0.5)
  for (let time = 0; time < 50; time++) {
    const place = { x: 22 * next() - 11, y: 22 * next() - 11 }
    const apart = x.map((value, at) => Math.hypot(value - place.x, y[at] - place.y))
    const least = Math.min(...apart)
    expect(index.nearest(place, 1.3)).toBe(least <= 1.3 ? apart.indexOf(least) : -1)
    const odd = (at: number) => at % 2 === 1
    expect(index.nearest(place, 0.4, odd) % 2).not.toBe(0)
  }
})

it('takes what lies inside an outline as angles round each point say', () => {
  const outline = [
    { x: -6, y: -7 },
    { x: 7, y: -3 },
    { x: 1, y: 0 },
    { x: 6, y: 8 },
    { x: -8, y: 3 },
  ]
  // The angles under which the edges are seen add up to a whole turn from inside, and to none from outside.
  const turn = (px: number, py: number) =>
    outline.reduce((sum, corner, at) => {
      const other = outline[(at + 1) % outline.length]
      const by = Math.atan2(other.y - py, other.x - px) - Math.atan2(corner.y - py, corner.x - px)
      return sum + (by > Math.PI ? by - 2 * Math.PI : by < -Math.PI ? by + 2 * Math.PI : by)
    }, 0)
  const wanted = x.map((_, at) => at).filter((at) => Math.abs(turn(x[at], y[at])) > Math.PI)
  expect(inside(x, y, outline)).toEqual(wanted)
})

it('writes an outline so that it can be read again, with few corners', () => {
  const outline = Array.from({ length: 900 }, (_, at) => ({ x: at / 7, y: -at / 3 }))
  const few = rounded(outline)
  expect(few.length).toBeLessThanOrEqual(120)
  expect(readOutline(written(few))).toEqual(few)
})

it('keeps a place where it is while the sight comes nearer', () => {
  const sight = { x: -10, y: -10, size: 20 }
  const before = toSheet(sight, 800, 500)
  const at = { x: before.mapX(300), y: before.mapY(120) }
  const after = toSheet(nearer(sight, 2, at), 800, 500)
  expect(after.x(at.x)).toBeCloseTo(300)
  expect(after.y(at.y)).toBeCloseTo(120)
  expect(after.scale).toBeCloseTo(2 * before.scale)
})
