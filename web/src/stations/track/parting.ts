import { computed } from 'vue'

import type { Parting } from '@/api/apart'

import { useBreakdown } from './breakdown'

/** By what documents are parted for a model each, as it stands in the address or is suggested. */
export function useParting(timed = false) {
  const breakdown = useBreakdown()
  const { by, choices, group, get } = breakdown
  const number = (name: string) => Number(get(name)) || undefined
  const seeds = computed(() => number('seeds') ?? 3)
  const grouped = computed(() => (timed ? undefined : group.value))
  const of = computed<Parting | undefined>(() =>
    choices.value && (grouped.value || breakdown.timed.value)
      ? {
          ...(grouped.value ? { group: grouped.value } : { period: by.value.period, breaks: by.value.breaks }),
          unit: by.value.unit,
          topics: number('k'),
          seeds: seeds.value,
          smallest: number('least'),
        }
      : undefined,
  )
  return { ...breakdown, of, seeds, number }
}
