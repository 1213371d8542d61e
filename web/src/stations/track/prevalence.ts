import type { Schemas } from '@/api/client'

export type Table = Schemas['PrevalenceTable']
export type Cell = Schemas['Cell']

export interface Estimate {
  mean: number
  low: number
  high: number
  n: number
}

/** The cells of one group, period by period. */
export const cellsOf = (table: Table, group: number): Cell[] => {
  const width = Math.max(1, table.periods.length)
  return table.cells.slice(group * width, (group + 1) * width)
}

/** Consecutive periods with documents: a line breaks where a period is empty. */
export function runs(cells: Cell[]): number[][] {
  const found: number[][] = []
  cells.forEach((cell, at) => {
    if (!cell.documents) return
    const last = found.at(-1)
    if (last && last.at(-1) === at - 1) last.push(at)
    else found.push([at])
  })
  return found
}

/** The place of a day (ISO) on the axis of periods, in periods from the first; null outside it. */
export function placeOf(iso: string, periods: string[]): number | null {
  if (!periods.length) return null
  const [year, month] = iso.split('-').map(Number)
  const first = periods[0]
  const start = Number(first.slice(0, 4))
  let at: number
  if (first.includes('Q')) at = (year - start) * 4 + (month - 1) / 3 - (Number(first.at(-1)) - 1)
  else if (first.includes('-')) at = (year - start) * 12 + (month - 1) - (Number(first.slice(5)) - 1)
  else at = year - start + (month - 1) / 12
  return at >= 0 && at <= periods.length ? at : null
}

function pooled(cells: Cell[], topic: number): Estimate | null {
  const filled = cells.filter((cell) => cell.documents)
  const n = filled.reduce((sum, cell) => sum + cell.documents, 0)
  if (!n) return null
  const mean = filled.reduce((sum, cell) => sum + cell.documents * cell.values[topic].mean, 0) / n
  // Cells are independent: their variances add with squared weights.
  const variance = filled.reduce((sum, cell) => {
    const half = (cell.values[topic].high - cell.values[topic].low) / 2
    return sum + (cell.documents / n) ** 2 * half ** 2
  }, 0)
  return { mean, low: mean - Math.sqrt(variance), high: mean + Math.sqrt(variance), n }
}

export interface Difference {
  here: Estimate
  rest: Estimate | null
  against: string
  apart: boolean
}

/** A selected group and period against the same group's other periods, or the other groups. */
export function difference(table: Table, topic: number, group: string | null, at: string | null): Difference | null {
  const width = Math.max(1, table.periods.length)
  const mine: Cell[] = []
  const others: Cell[] = []
  const [from, to] = at ? at.split('..') : ['', '']
  table.cells.forEach((cell, index) => {
    const name = table.groups[Math.floor(index / width)] ?? null
    const period = table.periods[index % width] ?? ''
    const inGroup = group === null || name === group
    const inPeriod = !at || (period >= from && period <= (to ?? from))
    if (inGroup && inPeriod) mine.push(cell)
    else if (at ? inGroup : !inGroup) others.push(cell)
  })
  const here = pooled(mine, topic)
  if (!here) return null
  const rest = pooled(others, topic)
  const against = at ? 'the other periods' : 'the other groups'
  return { here, rest, against, apart: !!rest && (here.low > rest.high || here.high < rest.low) }
}
