import type { PrevalenceCell as Cell, PrevalenceTable as Table } from '@/api/prevalence'

/** The cells of one group, period by period. */
export const cellsOf = (table: Table, group: number): Cell[] => {
  const width = Math.max(1, table.periods.length)
  return table.cells.slice(group * width, (group + 1) * width)
}

/** The place of a day (ISO) on the axis of periods, in periods from the first; null outside it. */
export function placeOf(iso: string, periods: string[]): number | null {
  if (!periods.length) return null
  const [year, month] = iso.split('-').map(Number)
  const first = periods[0]
  const start = Number(first.slice(0, 4))
  let at: number
  if (first.includes('Q')) at = (year - start) * 4 + (month - 1) / 3 - (Number(first.at(-1)) - 1)
  else if (/s|–/.test(first)) at = (year - start + (month - 1) / 12) / (first.endsWith('s') ? 10 : 50)
  else if (first.includes('-')) at = (year - start) * 12 + (month - 1) - (Number(first.slice(5)) - 1)
  else at = year - start + (month - 1) / 12
  return at >= 0 && at <= periods.length ? at : null
}

/** The one cell of a group and period, null for either meaning all; null where the table has none with documents. */
export function cellAt(table: Table, group: string | null, at: string | null): Cell | null {
  const row = group === null ? (table.groups.length ? -1 : 0) : table.groups.indexOf(group)
  const column = at === null ? (table.periods.length ? -1 : 0) : table.periods.indexOf(at)
  if (row < 0 || column < 0) return null
  const cell = table.cells[row * Math.max(1, table.periods.length) + column]
  return cell.documents ? cell : null
}
