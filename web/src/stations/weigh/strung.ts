/** A word to be strung, and where it hangs: its baseline starts at (x, y), letters are `size` high. */
export interface Word {
  key: string
  label: string
  weight: number
}
export interface Strung extends Word {
  x: number
  y: number
  size: number
  width: number
  thread: number
}
export interface Thread {
  y: number
  from: number
  to: number
}

/** About how wide a text is for each point of its size, where nothing can measure it. */
export const guessed = (label: string, size: number) => 0.56 * size * [...label].length

/**
 * Words strung on threads, from left to right and thread after thread in the order given. The area of a
 * word's letters follows its weight: their height goes with its square root. None lies over another.
 */
export function strung(
  words: Word[],
  width: number,
  measure: (label: string, size: number) => number = guessed,
  smallest = 12,
  largest = 44,
): { words: Strung[]; threads: Thread[]; height: number } {
  const most = Math.max(1e-12, ...words.map((word) => word.weight))
  const sized = words.map((word) => {
    const wanted = Math.max(smallest, largest * Math.sqrt(Math.max(0, word.weight) / most))
    const needed = measure(word.label, wanted)
    const size = needed > width ? Math.max(6, (wanted * width) / needed) : wanted
    return { ...word, size, width: Math.min(width, measure(word.label, size)) }
  })
  const found: Strung[] = []
  const threads: Thread[] = []
  let y = 4
  let line: typeof sized = []
  const gap = 14
  const long = (list: typeof sized) =>
    list.reduce((sum, word) => sum + word.width, 0) + gap * Math.max(0, list.length - 1)
  function hang(last: boolean) {
    if (!line.length) return
    y += Math.max(...line.map((word) => word.size)) * 1.02
    const spare = line.length > 1 && !last ? (width - long(line)) / (line.length - 1) : 0
    let x = 0
    for (const word of line) {
      found.push({ ...word, x, y, thread: threads.length })
      x += word.width + gap + spare
    }
    threads.push({ y: y + 4, from: 0, to: Math.min(width, x - gap - spare) })
    y += 0.3 * Math.max(...line.map((word) => word.size)) + 6
    line = []
  }
  for (const word of sized) {
    if (line.length && long([...line, word]) > width) hang(false)
    line.push(word)
  }
  hang(true)
  return { words: found, threads, height: Math.ceil(y + 6) }
}
