import type { Holds, HeldMark, PinnedEntry, Verdict } from '@/api/holds'

/** What a knot means, in the order of the legend. */
export const SAID: Record<Verdict, string> = {
  holds: 'holds',
  leans: 'as stated, not surely',
  turns: 'the other way, not surely',
  reversed: 'the other way',
  untold: 'too few units to tell',
  lost: 'not there to be tested',
}

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
