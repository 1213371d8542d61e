import type { Strand } from './client'

/** Changes of wanted settings that the server has not answered yet. */
let waiting = 0

/** A change is on its way. */
export const pending = () => void (waiting += 1)

/** A change was answered; whether it was the last one on its way. */
export function answered(): boolean {
  waiting = Math.max(0, waiting - 1)
  return waiting === 0
}

/** The strand to show after an answer: while later changes are on their way, with what they asked for. */
export const shown = (record: Strand, now: Strand | undefined): Strand =>
  waiting > 1 && now ? { ...record, wanted: now.wanted } : record
