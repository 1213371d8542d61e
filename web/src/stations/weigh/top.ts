import { toValue, type MaybeRefOrGetter } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { strandPath, useStrand, useStrandQuery } from '@/api/strand'

import { useScope } from './scope'

type Other = Partial<Pick<Schemas['Weighting'], 'local_weight' | 'global_weight' | 'norm'>>

/** The top terms of the documents that are looked at, with another weighting beside where one is given. */
export function useTopTerms(limit: MaybeRefOrGetter<number>, other: MaybeRefOrGetter<Other> = {}) {
  const { strand, ply } = useStrand()
  const { scope } = useScope()
  return useStrandQuery(
    'top terms',
    () => {
      const wanted = strand.value?.wanted
      const settings = [wanted?.clean, wanted?.weigh, wanted?.weighting, ply('fit')?.identity]
      return [...settings, scope.value, toValue(limit), toValue(other)]
    },
    (id) =>
      ask(
        client.GET('/api/strands/{strand_id}/top-terms', {
          params: { ...strandPath(id), query: { ...scope.value, ...toValue(other), limit: toValue(limit) } },
        }),
      ),
    () => !!ply('cleaning')?.identity,
  )
}
