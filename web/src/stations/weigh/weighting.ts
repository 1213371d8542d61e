import { computed } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { strandPath, useStrandQuery, useWanted } from '@/api/strand'

export type Weighting = Schemas['Weighting']
export const COUNTS: Weighting = {
  local_weight: 'raw',
  global_weight: 'none',
  norm: 'none',
  base: 'e',
  k1: 1.2,
  b: 0.75,
}

const PARTS = ['local_weight', 'global_weight', 'norm'] as const
/** Whether two weightings are the same but for the details of their parts. */
export const alike = (a: Weighting, b: Weighting) => PARTS.every((part) => a[part] === b[part])

/** The weighting that is wanted, and all that could be. */
export function useWeighting() {
  const { wanted, change } = useWanted()
  const weighting = computed<Weighting>(() => ({ ...COUNTS, ...wanted.value?.weighting }))
  const choices = useStrandQuery(
    'weights',
    () => weighting.value,
    (id) => ask(client.GET('/api/strands/{strand_id}/weights', { params: strandPath(id) })),
  )
  const isCounts = computed(() => alike(weighting.value, COUNTS))
  const want = (part: Partial<Weighting>) => change({ weighting: { ...weighting.value, ...part } })
  return { weighting, choices: choices.data, isCounts, want }
}
