import type { Schemas } from '@/api/client'
import type { PeriodOf, PrevalenceCell as Cell, PrevalenceTable as Table } from '@/api/prevalence'
import { count, GAP, percent } from '@/marks/format'

export type Interval = Schemas['Interval']

/** An estimate with its interval, or why it has none. */
export const estimate = (value: Interval, least: number) =>
  `${percent(value.mean)} (${value.low === null || value.high === null ? `no interval: under ${least} units` : `${percent(value.low)} to ${percent(value.high)}`})`

/** What a cell rests on: its documents, and its units where these are others. */
export const resting = (cell: Cell) =>
  `n ${count(cell.documents)}` + (cell.units === cell.documents ? '' : ` of ${count(cell.units)} units`)

/** Points of a hundred with their sign: +5.9, −0.4. */
export const points = (difference: number) => `${difference < 0 ? '−' : '+'}${Math.abs(100 * difference).toFixed(1)}`

/** A p value as far as it can be told: p < 0.001, p 0.034. */
export const chance = (p: number) => (p < 0.001 ? 'p < 0.001' : `p ${p.toFixed(3)}`)

/** The cells of one group, period by period. */
export const cellsOf = (table: Table, group: number): Cell[] => {
  const width = Math.max(1, table.periods.length)
  return table.cells.slice(group * width, (group + 1) * width)
}

/** The share of a topic in a cell, as counted or smoothed; none where the table has not got it. */
export const shareOf = (table: Table, cell: Cell, topic: number, smooth = false): Interval | undefined =>
  (smooth ? cell.smooth : cell.values)[table.topics.indexOf(topic)]

/** From the beginning of one period to the end of another, as the server reads it. */
export const stretch = (first: string, last: string) =>
  first === last ? first : `${first.split('..')[0]}..${last.split('..').at(-1)}`

const time = (iso: string) => new Date(`${iso}T00:00:00Z`).getTime()

/** The place of a day (ISO) on the axis of periods, in periods from the first; in a gap its middle; null outside. */
export function placeOf(iso: string, periods: PeriodOf[]): number | null {
  const at = periods.findIndex((each) => each.first <= iso && iso <= each.last)
  if (at < 0) return null
  const { name, first, last } = periods[at]
  if (name.includes(GAP) || name.includes('..')) return at + (iso === first ? 0 : 0.5)
  return at + (time(iso) - time(first)) / (time(last) - time(first) + 86_400_000)
}

/** The one cell of a group and period, null for either meaning all; null where the table has none with documents. */
export function cellAt(table: Table, group: string | null, at: string | null): Cell | null {
  const row = group === null ? (table.groups.length ? -1 : 0) : table.groups.indexOf(group)
  const column = at === null ? (table.periods.length ? -1 : 0) : table.periods.findIndex((each) => each.name === at)
  if (row < 0 || column < 0) return null
  const cell = table.cells[row * Math.max(1, table.periods.length) + column]
  return cell.documents ? cell : null
}
