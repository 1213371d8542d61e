import { computed, ref } from 'vue'

import type { Strand } from './client'

/** Changes of wanted settings that the server has not answered yet. */
const waiting = ref(0)

/** The server knows all wanted settings; before that its answers would be to earlier ones. */
export const settled = computed(() => waiting.value === 0)

/** A change is on its way. */
export const pending = () => void (waiting.value += 1)

/** A change was answered; whether it was the last one on its way. */
export function answered(): boolean {
  waiting.value = Math.max(0, waiting.value - 1)
  return settled.value
}

/** The strand to show after an answer: while later changes are on their way, with what they asked for. */
export const shown = (record: Strand, now: Strand | undefined): Strand =>
  waiting.value > 1 && now ? { ...record, wanted: now.wanted } : record

/** The strand to show after it was fetched: what was asked before a change, or while one is on its way, doesn't undo it. */
export const fetched = (record: Strand, now: Strand | undefined): Strand =>
  now && (waiting.value > 0 || record.revision < now.revision)
    ? { ...record, wanted: now.wanted, revision: now.revision }
    : record
