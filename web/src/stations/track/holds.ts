import type { Holds, HeldMark, PinnedEntry } from '@/api/holds'

/** Statements by their letters: a, b, … z, aa, ab. */
export function letter(at: number): string {
  const last = String.fromCharCode(97 + (at % 26))
  return at < 26 ? last : letter(Math.floor(at / 26) - 1) + last
}

/** One statement under one choice; none where the choice makes nothing else of it. */
export const marksOf = (pin: PinnedEntry, key: string): HeldMark[] => pin.marks.filter((each) => each.key === key)

/** Results that have to be made for some choices, and the tests that are still to do. */
export function left(found: Holds, over: ReadonlySet<string>) {
  const choices = found.kinds.flatMap((kind) => kind.choices).filter((each) => over.has(each.key))
  const open = found.pins.flatMap((pin) => pin.marks).filter((each) => over.has(each.key) && each.verdict === null)
  return { results: choices.reduce((sum, each) => sum + each.missing, 0), tests: open.length }
}
