import type { Found } from './found'

type Row = Pick<Found, 'words' | 'variants'>

/** What a line of the pass Multiword terms is found as. */
const foundAs = (term: string) => term.split('=')[0].trim().toLowerCase()

export const isTicked = (terms: string[], words: string) => terms.some((term) => foundAs(term) === words)

/** Terms without a phrase and its variants. */
export function unticked(terms: string[], row: Row): string[] {
  const written = new Set([row.words, ...row.variants.map((each) => each.words)])
  return terms.filter((term) => !written.has(foundAs(term)))
}

/** Terms with a phrase; its variants are found as the same term. */
export const ticked = (terms: string[], row: Row): string[] => [
  ...unticked(terms, row),
  row.words,
  ...row.variants
    .map((each) => each.words)
    .filter((words) => words !== row.words)
    .map((words) => `${words} = ${row.words}`),
]
