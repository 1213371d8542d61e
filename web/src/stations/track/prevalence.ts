import type { Schemas } from '@/api/client'
import type { PrevalenceCell as Cell, PrevalenceTable as Table } from '@/api/prevalence'
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

/** A period's name for a day, named as another is, and how much of it is over by then. */
function periodOf(iso: string, like: string): [string, number] {
  const [year, month] = iso.split('-').map(Number)
  const years = (count: number) => Math.floor(year / count) * count
  const through = (count: number) => (year - years(count) + (month - 1) / 12) / count
  const written = (of: number) => String(of).padStart(4, '0')
  if (like.includes('Q')) return [`${written(year)}-Q${Math.ceil(month / 3)}`, ((month - 1) % 3) / 3]
  if (like.endsWith('s')) return [`${written(years(10))}s`, through(10)]
  if (like.includes('–')) return [`${written(years(50))}–${written(years(50) + 49)}`, through(50)]
  if (like.includes('-')) return [iso.slice(0, 7), 0]
  return [written(year), through(1)]
}

/** The place of a day (ISO) on the axis of periods, in periods from the first; in a gap its middle; null outside. */
export function placeOf(iso: string, periods: string[]): number | null {
  if (!periods.length) return null
  const [name, part] = periodOf(iso, periods[0])
  const at = periods.indexOf(name)
  if (at >= 0) return at + part
  const gap = periods.findIndex((each) => each.split(GAP)[0] <= name && name <= (each.split(GAP)[1] ?? ''))
  return gap >= 0 ? gap + 0.5 : null
}

/** The one cell of a group and period, null for either meaning all; null where the table has none with documents. */
export function cellAt(table: Table, group: string | null, at: string | null): Cell | null {
  const row = group === null ? (table.groups.length ? -1 : 0) : table.groups.indexOf(group)
  const column = at === null ? (table.periods.length ? -1 : 0) : table.periods.indexOf(at)
  if (row < 0 || column < 0) return null
  const cell = table.cells[row * Math.max(1, table.periods.length) + column]
  return cell.documents ? cell : null
}
