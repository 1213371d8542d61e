import type { Wanted } from '@/api/client'

export type Pass = NonNullable<NonNullable<Wanted['clean']>['passes']>[number]

/** Passes after which the words of a cluster count as the first of them; at the end, where words have their forms. */
export function asOneWord(passes: Pass[], terms: string[]): Pass[] {
  const pairs = terms.slice(1).map((term) => `${term} = ${terms[0]}`)
  const last = passes.at(-1)
  if (last?.kind !== 'replacements') return [...passes, { kind: 'replacements', on: true, pairs } as Pass]
  const known = new Set(last.pairs)
  return [
    ...passes.slice(0, -1),
    { ...last, on: true, pairs: [...(last.pairs ?? []), ...pairs.filter((each) => !known.has(each))] },
  ]
}

/** Passes that take some words in a row as one term, before words get their forms. */
export function asTerm(passes: Pass[], term: string): Pass[] {
  const at = passes.findIndex((each) => each.kind === 'multiword')
  if (at < 0) return [{ kind: 'multiword', on: true, terms: [term] } as Pass, ...passes]
  return passes.map((each, place) =>
    place === at && each.kind === 'multiword'
      ? { ...each, on: true, terms: [...(each.terms ?? []).filter((known) => known !== term), term] }
      : each,
  )
}

/** Sets of words with one more, or without it where it is there. */
export const asSeedWords = (sets: string[][], terms: string[]) =>
  sets.some((each) => each.join() === terms.join())
    ? sets.filter((each) => each.join() !== terms.join())
    : [...sets, terms]
