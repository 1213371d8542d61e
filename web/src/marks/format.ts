const THIN = '\u202f'
const integer = new Intl.NumberFormat('en-GB', { maximumFractionDigits: 0 })
const MONTHS = 'Jan Feb Mar Apr May Jun Jul Aug Sep Oct Nov Dec'.split(' ')

/** A whole number with thin spaces: 2 412. */
export const count = (value: number) => integer.format(value).replaceAll(',', THIN)

/** A count with its noun: 1 entry, 3 entries. */
export const counted = (value: number, one: string, many = `${one}s`) => `${count(value)} ${value === 1 ? one : many}`

/** A title within a sentence: its first letter small, the rest as it is. */
export const within = (title: string) => title.charAt(0).toLowerCase() + title.slice(1)

/** Bytes for people: 812 bytes, 3.4 kB, 12 MB. */
export function size(bytes: number): string {
  if (bytes < 1000) return `${bytes} bytes`
  const [unit, by] = bytes < 1e6 ? ['kB', 1e3] : bytes < 1e9 ? ['MB', 1e6] : ['GB', 1e9]
  const value = bytes / by
  return `${value < 10 ? value.toFixed(1) : Math.round(value)}${THIN}${unit}`
}

/** A share as percent: 9.4 %. What is not all or nothing keeps the digits that tell: 99.96 %. */
export function percent(share: number, digits = 1): string {
  const whole = (told: string) => Number(told) === 0 || Number(told) === 100
  let told = (100 * share).toFixed(digits)
  for (let more = digits + 1; more < 5 && share > 0 && share < 1 && whole(told); more++)
    told = (100 * share).toFixed(more)
  return `${told}${THIN}%`
}

/** A decimal number with a true minus sign; what there is to say where there is none. */
export const decimal = (value: number | null | undefined, digits = 2, none = '–') =>
  typeof value === 'number' ? value.toFixed(digits).replace('-', '−') : none

/** Seconds as a person says them. */
export function duration(seconds: number): string {
  if (seconds < 1) return 'under 1 s'
  if (seconds < 90) return `${Math.round(seconds)} s`
  return `${Math.round(seconds / 60)} min`
}

/** Within the name of periods without documents that an axis of time passes over. */
export const GAP = '…'

/** The ends of the calendar: a stretch that begins or ends there is open. */
export const FIRST_DAY = '0001-01-01'
export const LAST_DAY = '9999-12-31'

/** A period's name for people: 2014-Q1 as Q1 2014, 2014-01 as Jan 2014. */
export function period(name: string): string {
  if (name.includes('..')) {
    const [first, last] = name.split('..')
    if (first === FIRST_DAY) return `to ${period(last)}`
    return last === LAST_DAY ? `from ${period(first)}` : `${period(first)} to ${period(last)}`
  }
  if (name.includes(GAP)) return GAP
  const [year, part, number] = name.split('-')
  if (!part) return name
  if (number) return day(name)
  if (part.startsWith('W')) return `week ${Number(part.slice(1))}, ${year}`
  return part.startsWith('Q') ? `${part} ${year}` : `${MONTHS[Number(part) - 1]} ${year}`
}

/** An ISO day for people: 14 Jan 2014. */
export function day(iso: string): string {
  const [year, month, number] = iso.split('-').map(Number)
  return `${number} ${MONTHS[month - 1]} ${year}`
}
