import type { Schemas } from '@/api/client'

export type Fit = Schemas['MadeFit']
export type Chance = Schemas['ChanceFit']
export type Measure = Schemas['MeasureKind']

/** Numbers from `4, 6, 10-14` (a range goes by ones), without repeats, in order. */
export function parseNumbers(text: string): number[] {
  const found = new Set<number>()
  for (const part of text.split(/[\s,;]+/).filter(Boolean)) {
    const range = /^(\d{1,4})(?:[-–](\d{1,4}))?$/.exec(part)
    if (!range) return []
    const [first, last] = [Number(range[1]), Number(range[2] ?? range[1])]
    for (let number = first; number <= Math.min(last, first + 500); number++) found.add(number)
  }
  return [...found].sort((a, b) => a - b)
}

/** Values of a setting from `0.1, 0.5` or `nndsvd, random`: numbers, yes and no, `open` for one left open, else words. */
export function parseValues(text: string): (string | number | boolean | null)[] {
  const known: Record<string, boolean | null> = { yes: true, no: false, true: true, false: false, open: null }
  return text
    .split(/[,;]+/)
    .map((each) => each.trim())
    .filter(Boolean)
    .map((each) => (each in known ? known[each] : Number.isNaN(Number(each)) ? each : Number(each)))
}

export interface Spread {
  topics: number
  mean: number
  low: number
  high: number
}

function byCount(rows: { topics: number; value: number | null | undefined }[]): Spread[] {
  const found = new Map<number, number[]>()
  for (const { topics, value } of rows)
    if (value !== null && value !== undefined) found.set(topics, [...(found.get(topics) ?? []), value])
  return [...found]
    .map(([topics, values]) => ({
      topics,
      mean: values.reduce((a, b) => a + b, 0) / values.length,
      low: Math.min(...values),
      high: Math.max(...values),
    }))
    .sort((a, b) => a.topics - b.topics)
}

/** Mean and range of a measure over the seeds of each count. */
export const spreads = (fits: Fit[], measure: string): Spread[] =>
  byCount(fits.map((fit) => ({ topics: fit.settings.topics, value: fit.measures[measure] })))

/** The same of words dealt out at random. */
export const chanceBand = (chance: Chance[], measure: string): Spread[] =>
  byCount(chance.map((each) => ({ topics: each.topics, value: each.measures[measure] })))

/** A fit at work with what may still change of it. */
export interface Provisional {
  topics: number
  seed: number
  measures: Record<string, number>
}

/** The fits that tasks at work tell of, but for those that are there. */
export function atWork(tasks: Record<string, unknown>[], there: Fit[]): Provisional[] {
  const made = new Set(there.map((fit) => `${fit.settings.topics} ${fit.settings.seed}`))
  return tasks.flatMap((task) => {
    const fit = task.fit as { topics: number; seed: number } | undefined
    const measures = task.measured as Record<string, number> | undefined
    return fit && measures && !made.has(`${fit.topics} ${fit.seed}`) ? [{ ...fit, measures }] : []
  })
}

/** Measures to show: those that are asked for, or one coherence and the first of the others. */
export function shown(measures: Measure[], asked: string[], by: string): Measure[] {
  const usual = [by, 'exclusivity', 'stability', 'held_out', 'reconstruction', 'kept_in_halves', 'documents_in_topics']
  const keys = asked.length ? asked : usual
  return measures.filter((each) => keys.includes(each.key))
}
