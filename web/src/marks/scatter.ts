/** Many points in the plane: where they are on the sheet, which is nearest, which lie within an outline. */

export interface Corner {
  x: number
  y: number
}

/** The square of the map that is in sight: its lower left corner and its side, in units of the map. */
export interface Sight {
  x: number
  y: number
  size: number
}

/** From the map to a sheet of `width` by `height`, the square in its middle; up is up. */
export function toSheet(sight: Sight, width: number, height: number) {
  const scale = Math.min(width, height) / sight.size
  const left = (width - sight.size * scale) / 2
  const top = (height - sight.size * scale) / 2
  return {
    scale,
    x: (value: number) => left + (value - sight.x) * scale,
    y: (value: number) => height - top - (value - sight.y) * scale,
    mapX: (value: number) => sight.x + (value - left) / scale,
    mapY: (value: number) => sight.y + (height - top - value) / scale,
  }
}

/** A sight of the same middle, `by` times as near. */
export const nearer = (sight: Sight, by: number, at: Corner = middle(sight)): Sight => ({
  x: at.x - (at.x - sight.x) / by,
  y: at.y - (at.y - sight.y) / by,
  size: sight.size / by,
})
export const middle = (sight: Sight): Corner => ({ x: sight.x + sight.size / 2, y: sight.y + sight.size / 2 })

/** Points by the cell of a grid that they lie in, so that few are looked at for the nearest. */
export class PointIndex {
  private readonly cells = new Map<number, number[]>()

  constructor(
    private readonly x: ArrayLike<number>,
    private readonly y: ArrayLike<number>,
    private readonly cell: number,
  ) {
    for (let at = 0; at < x.length; at++) {
      const key = this.key(this.part(x[at]), this.part(y[at]))
      const there = this.cells.get(key)
      if (there) there.push(at)
      else this.cells.set(key, [at])
    }
  }
  private part = (value: number) => Math.floor(value / this.cell)
  private key = (column: number, row: number) => (column + 32768) * 65536 + row + 32768

  /** The point nearest to a place, within reach, among those that `counts`; -1 where there is none. */
  nearest(place: Corner, reach: number, counts: (at: number) => boolean = () => true): number {
    let best = -1
    let least = reach * reach
    for (let column = this.part(place.x - reach); column <= this.part(place.x + reach); column++)
      for (let row = this.part(place.y - reach); row <= this.part(place.y + reach); row++)
        for (const at of this.cells.get(this.key(column, row)) ?? []) {
          const distance = (this.x[at] - place.x) ** 2 + (this.y[at] - place.y) ** 2
          if (distance <= least && counts(at)) [best, least] = [at, distance]
        }
    return best
  }
}

/** Which points lie inside an outline, by the edges that a ray to the right crosses. */
export function inside(x: ArrayLike<number>, y: ArrayLike<number>, outline: Corner[]): number[] {
  const xs = outline.map((corner) => corner.x)
  const ys = outline.map((corner) => corner.y)
  const [left, right] = [Math.min(...xs), Math.max(...xs)]
  const [low, high] = [Math.min(...ys), Math.max(...ys)]
  const found: number[] = []
  for (let at = 0; at < x.length; at++) {
    const [px, py] = [x[at], y[at]]
    if (px < left || px > right || py < low || py > high) continue
    let within = false
    for (let one = 0, before = outline.length - 1; one < outline.length; before = one++)
      if (
        ys[before] > py !== ys[one] > py &&
        px < ((xs[one] - xs[before]) * (py - ys[before])) / (ys[one] - ys[before]) + xs[before]
      )
        within = !within
    if (within) found.push(at)
  }
  return found
}

/** An outline of at most so many corners, each rounded to what the server is asked with. */
export function rounded(outline: Corner[], most = 120): Corner[] {
  const every = Math.max(1, Math.ceil(outline.length / most))
  const near = (value: number) => Math.round(value * 1000) / 1000 + 0
  return outline.filter((_, at) => at % every === 0).map(({ x, y }) => ({ x: near(x), y: near(y) }))
}
export const written = (outline: Corner[]) => outline.map(({ x, y }) => `${x},${y}`).join(' ')
export const readOutline = (text: string): Corner[] =>
  text.split(' ').map((each) => {
    const [x, y] = each.split(',').map(Number)
    return { x, y }
  })

/** Eight shapes, one for each stitch, so that no meaning rests on hue alone. */
export const SHAPES = ['disc', 'square', 'diamond', 'triangle', 'cross', 'ring', 'wedge', 'bar'] as const
export function trace(pen: Path2D, shape: number, x: number, y: number, r: number) {
  const lines = (corners: number[][]) => {
    corners.forEach(([dx, dy], at) => (at ? pen.lineTo(x + dx * r, y + dy * r) : pen.moveTo(x + dx * r, y + dy * r)))
    pen.closePath()
  }
  const kind = SHAPES[shape % SHAPES.length]
  if (kind === 'square') pen.rect(x - 0.85 * r, y - 0.85 * r, 1.7 * r, 1.7 * r)
  else if (kind === 'diamond')
    lines([
      [0, -1.25],
      [1.25, 0],
      [0, 1.25],
      [-1.25, 0],
    ])
  else if (kind === 'triangle')
    lines([
      [0, -1.2],
      [1.15, 0.9],
      [-1.15, 0.9],
    ])
  else if (kind === 'wedge')
    lines([
      [0, 1.2],
      [1.15, -0.9],
      [-1.15, -0.9],
    ])
  else if (kind === 'bar') pen.rect(x - 1.35 * r, y - 0.5 * r, 2.7 * r, r)
  else if (kind === 'cross') {
    pen.rect(x - 1.3 * r, y - 0.4 * r, 2.6 * r, 0.8 * r)
    pen.rect(x - 0.4 * r, y - 1.3 * r, 0.8 * r, 2.6 * r)
  } else {
    pen.moveTo(x + 1.05 * r, y)
    pen.arc(x, y, 1.05 * r, 0, 2 * Math.PI)
    if (kind === 'ring') {
      pen.moveTo(x + 0.5 * r, y)
      pen.arc(x, y, 0.5 * r, 0, 2 * Math.PI, true)
    }
  }
}
