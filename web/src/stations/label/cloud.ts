export interface CloudWord {
  display: string
  share: number
  own: number
}
export interface Hung<T extends CloudWord> {
  word: T
  x: number
  line: number
  size: number
  width: number
}

const SMALLEST = 10.5
const LARGEST = 24
/** Widths of letters of the book face against its size, about. */
const LETTER = 0.54
const GAP = 9

/** The size of a word: its share's root, so that areas compare. */
export const sizeOf = (share: number, most: number) =>
  SMALLEST + (LARGEST - SMALLEST) * Math.sqrt(Math.max(0, share) / Math.max(most, 1e-12))

/**
 * Words hung on threads of a width, the strongest in the middle of the first: each goes where most room is left, and
 * alternates to the left and right end of its thread.
 */
export function hang<T extends CloudWord>(
  words: T[],
  width: number,
  measure: (text: string, size: number) => number | undefined = () => undefined,
): { hung: Hung<T>[]; lines: number[] } {
  const most = Math.max(1e-12, ...words.map((word) => word.share))
  const rows: { words: { word: T; size: number; width: number }[]; used: number }[] = []
  for (const word of words) {
    const size = sizeOf(word.share, most)
    const wide = Math.min(width, measure(word.display, size) ?? word.display.length * size * LETTER)
    let row = rows.find((each) => each.used + wide + GAP <= width)
    if (!row) rows.push((row = { words: [], used: -GAP }))
    const item = { word, size, width: wide }
    if (row.words.length % 2) row.words.unshift(item)
    else row.words.push(item)
    row.used += wide + GAP
  }
  const hung: Hung<T>[] = []
  rows.forEach((row, line) => {
    const gap = row.words.length > 1 ? Math.min(26, GAP + (width - row.used) / (row.words.length + 1)) : 0
    const whole = row.words.reduce((sum, each) => sum + each.width, 0) + gap * (row.words.length - 1)
    let x = Math.max(0, (width - whole) / 2)
    for (const each of row.words) {
      hung.push({ ...each, x, line })
      x += each.width + gap
    }
  })
  return { hung, lines: rows.map((row) => Math.max(...row.words.map((each) => each.size))) }
}
