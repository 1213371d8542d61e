import { computed } from 'vue'

import { useRegressionChoices, type Regression } from '@/api/regression'
import { useAddress } from '@/frame/address'

export const TIME = 'date'
export const BETWEEN = ' × '

/** Pairs of terms that can be chosen, in the order of the terms. */
export const pairsOf = (terms: string[]) =>
  terms.flatMap((one, at) => terms.slice(at + 1).map((other) => `${one}${BETWEEN}${other}`))

/** Without what one term has, its pairs among it; or with it. */
export function toggled(list: string[], name: string) {
  return list.includes(name) ? list.filter((each) => each !== name) : [...list, name]
}

/** What prevalence is regressed on, as it stands in the address or is suggested. */
export function useTerms() {
  const { get, list, set } = useAddress()
  const query = useRegressionChoices()
  const choices = query.data
  const suggested = computed(() => choices.value?.suggested ?? undefined)
  const chosen = computed(() => get('on') !== '' || list('on').length > 0)
  const terms = computed(() => {
    const known = [...(choices.value?.factors ?? []), ...(choices.value?.numbers ?? []), TIME]
    const given = chosen.value
      ? list('on')
      : [
          ...(suggested.value?.factors ?? []),
          ...(suggested.value?.numbers ?? []),
          ...(suggested.value?.time ? [TIME] : []),
        ]
    return given.filter((each) => known.includes(each))
  })
  /** A field of numbers that is a group as well counts as numbers where it has many values. */
  const isNumber = (name: string) => !!choices.value?.numbers.includes(name) && !list('group').includes(name)
  const pairs = computed(() => list('pair').filter((each) => pairsOf(terms.value).includes(each)))
  const unit = computed(() => get('unit') || (suggested.value?.unit ?? 'documents'))
  const of = computed<Regression | undefined>(() => {
    if (!choices.value || !terms.value.length) return undefined
    const fields = terms.value.filter((each) => each !== TIME)
    return {
      factor: fields.filter((each) => !isNumber(each)),
      number: fields.filter(isNumber),
      time: terms.value.includes(TIME),
      bends: Number(get('bends', '3')) || 3,
      pair: pairs.value,
      link: get('link', 'identity'),
      weight: get('weight', 'tokens'),
      unit: unit.value === 'documents' || fields.includes(unit.value) ? undefined : unit.value,
      design: get('design') || undefined,
    }
  })
  return {
    ...{ choices, query, terms, pairs, unit, of, chosen, isNumber, get, set },
    toggle: (name: string) => set({ on: toggled(terms.value, name), point: '' }),
    togglePair: (name: string) => set({ on: terms.value, pair: toggled(pairs.value, name), point: '' }),
  }
}
