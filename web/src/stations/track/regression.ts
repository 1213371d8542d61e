import { computed } from 'vue'

import { useRegressionChoices, type Regression } from '@/api/regression'
import { useAddress } from '@/frame/address'
import { percent } from '@/marks/format'

export const TIME = 'date'
export const BETWEEN = ' × '
/** How a field is called that could be groups as well, where it is taken for numbers. */
export const AS_NUMBER = ' as a number'

/** An interval in words, where there is one. */
export const interval = (share: { low?: number | null; high?: number | null }) =>
  typeof share.low === 'number' && typeof share.high === 'number'
    ? `(${percent(share.low)} to ${percent(share.high)})`
    : '(too few units for an interval)'

export const fieldOf = (term: string) => (term.endsWith(AS_NUMBER) ? term.slice(0, -AS_NUMBER.length) : term)

/** What can be chosen: fields of groups, of numbers, of both as either, and the time. */
export function termsOf(factors: string[], numbers: string[], dated: boolean) {
  const both = numbers.map((each) => (factors.includes(each) ? `${each}${AS_NUMBER}` : each))
  return [...factors, ...both, ...(dated ? [TIME] : [])]
}

/** Pairs of terms that can be chosen, in the order of the terms. */
export const pairsOf = (terms: string[]) => {
  const fields = terms.map(fieldOf)
  return fields.flatMap((one, at) => fields.slice(at + 1).map((other) => `${one}${BETWEEN}${other}`))
}

/** A list without a name that it has, or with one that it lacks, in place of the same field taken otherwise. */
export const toggled = (list: string[], name: string) =>
  list.includes(name)
    ? list.filter((each) => each !== name)
    : [...list.filter((each) => fieldOf(each) !== fieldOf(name)), name]

/** What prevalence is regressed on, as it stands in the address or is suggested. */
export function useTerms() {
  const { get, list, set } = useAddress()
  const query = useRegressionChoices()
  const choices = query.data
  const suggested = computed(() => choices.value?.suggested ?? undefined)
  const all = computed(() =>
    termsOf(choices.value?.factors ?? [], choices.value?.numbers ?? [], choices.value?.dated ?? false),
  )
  const chosen = computed(() => list('on').length > 0)
  const terms = computed(() => {
    const given = suggested.value
    const first = given ? termsOf(given.factors, given.numbers, given.time) : []
    return (chosen.value ? list('on') : first).filter((each) => all.value.includes(each))
  })
  const pairs = computed(() => list('pair').filter((each) => pairsOf(terms.value).includes(each)))
  const unit = computed(() => get('unit') || (suggested.value?.unit ?? 'documents'))
  const of = computed<Regression | undefined>(() => {
    if (!choices.value || !terms.value.length) return undefined
    const fields = terms.value.filter((each) => each !== TIME)
    const factor = fields.filter((each) => choices.value!.factors.includes(each))
    return {
      factor,
      number: fields.filter((each) => !factor.includes(each)).map(fieldOf),
      time: terms.value.includes(TIME),
      bends: Number(get('bends', '3')) || 3,
      pair: pairs.value,
      link: get('link', 'identity'),
      weight: get('weight', 'tokens'),
      unit: unit.value === 'documents' || fields.map(fieldOf).includes(unit.value) ? undefined : unit.value,
      design: get('design') || undefined,
    }
  })
  return {
    ...{ choices, query, all, terms, pairs, unit, of, chosen, get, set },
    toggle: (name: string) => set({ on: toggled(terms.value, name), point: '' }),
    togglePair: (name: string) => set({ on: terms.value, pair: toggled(pairs.value, name), point: '' }),
  }
}
