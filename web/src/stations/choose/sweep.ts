import type { Schemas } from '@/api/client'

export type Fit = Schemas['MadeFit']
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

export interface Spread {
  topics: number
  mean: number
  low: number
  high: number
}

/** Mean and range of a measure over the seeds of each count. */
export function spreads(fits: Fit[], measure: string): Spread[] {
  const byCount = new Map<number, number[]>()
  for (const fit of fits) {
    const value = fit.measures[measure]
    if (value === null || value === undefined) continue
    const topics = fit.settings.topics ?? 0
    byCount.set(topics, [...(byCount.get(topics) ?? []), value])
  }
  return [...byCount]
    .map(([topics, values]) => ({
      topics,
      mean: values.reduce((a, b) => a + b, 0) / values.length,
      low: Math.min(...values),
      high: Math.max(...values),
    }))
    .sort((a, b) => a.topics - b.topics)
}
