/** Identity of topics: 24 dyes and eight stitches; beyond 24 the stitches shift, so pairs stay unique. */

export const DYES = 24
export const STITCHES = 8

export const dyeOf = (index: number) => index % DYES
export const stitchOf = (index: number) => (index + Math.floor(index / DYES)) % STITCHES
export const colour = (index: number) => `var(--dye-${dyeOf(index)})`

/** Paths of the stitches on a cell of 8 by 8, in the order of the rotation. */
export const STITCH_PATHS = [
  'M-2 2 2 -2M0 8 8 0M6 10 10 6', // rising diagonal
  'M-2 6 2 10M0 0 8 8M6 -2 10 2', // falling diagonal
  'M0 2H8M0 6H8', // weft
  'M2 0V8M6 0V8', // warp
  'M0 4H8M4 0V8', // check
  'M1.4 2h1.2M5.4 6h1.2', // dots
  'M0 5 2 3 4 5 6 3 8 5', // zigzag
  'M0 2H4M4 6H8M6 0V4M2 4V8', // basket
]

/** Dash patterns of lines, one for each stitch. */
export const DASHES = ['', '7 3', '2 3', '10 3 2 3', '5 2', '1.5 2.5', '12 4', '6 2 1.5 2 1.5 2']
export const dashOf = (index: number) => DASHES[stitchOf(index)]
export const patternId = (index: number) => `dye-${index}`
