import type { Found } from './found'

type Row = Pick<Found, 'words' | 'variants'>

/** Lines by which names are found: each name, and its variants as the same name. */
export const termsOf = (rows: Row[]): string[] =>
  rows.flatMap((row) => [
    row.words,
    ...row.variants.filter((each) => each.words !== row.words).map((each) => `${each.words} = ${row.words}`),
  ])

/** Merges with those that bring some names under the first of them. */
export const mergedInto = (merged: Record<string, string>, rows: Row[]): Record<string, string> => ({
  ...merged,
  ...Object.fromEntries(rows.slice(1).map((row) => [row.words.toLowerCase(), rows[0].words])),
})
