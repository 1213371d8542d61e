import type { Filter } from './shape'

/** What narrows the list of documents, as the server takes it; `words_to` is exclusive. */
export interface Chosen {
  find: string
  expression: boolean
  filter: string[]
  flag?: string
  evidence?: string
  date_from?: string
  date_to?: string
  words_from?: number
  words_to?: number
  language: string[]
}

/** Whether anything narrows the list at all. */
export function narrows({ find, filter, language, flag, evidence, ...more }: Chosen): boolean {
  const ranges = [more.date_from, more.date_to, more.words_from, more.words_to]
  const lists = filter.length + language.length
  return !!(find || flag || evidence || lists) || ranges.some((each) => each !== undefined)
}

/** Flags that a step can name by themselves; of the others only the documents of this corpus are known. */
const NAMED = ['undated', 'garbled']

/** What only this corpus can tell: a flag, or an evidence set, to be recorded as numbers of documents. */
export function onlyHere({ flag, evidence }: Chosen) {
  const here = flag && !NAMED.includes(flag) ? flag : undefined
  if (!here && !evidence) return undefined
  const said = [here, evidence ? 'the evidence set' : undefined].filter(Boolean).join(' and ')
  return { query: { flag: here, evidence }, said }
}

/** The same choice as a step of shaping that keeps these documents, or leaves them out. */
export function filterOf(chosen: Chosen, out: boolean): Filter {
  const where: Record<string, string[]> = {}
  for (const each of chosen.filter) {
    const [field, ...value] = each.split(':')
    where[field] = [...(where[field] ?? []), value.join(':')]
  }
  return {
    kind: 'filter',
    out,
    where,
    words_from: chosen.words_from ?? null,
    words_to: chosen.words_to ?? null,
    languages: chosen.language,
    date_from: chosen.date_from ?? '',
    date_to: chosen.date_to ?? '',
    undated: chosen.flag === 'undated' ? true : null,
    garbled: chosen.flag === 'garbled' ? true : null,
    search: chosen.expression ? '' : chosen.find,
    expression: chosen.expression ? chosen.find : '',
    numbers: null,
    said: '',
  }
}
