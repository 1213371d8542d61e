import { toValue, type MaybeRefOrGetter } from 'vue'

import { ask, client, type Schemas } from './client'
import { strandPath, useStrandQuery } from './strand'
import { useTopics } from './topics'

export type PrevalenceTable = Schemas['PrevalenceTable']
export type PrevalenceCell = Schemas['Cell']
export type Period = NonNullable<PrevalenceTable['period']>
export type DifferenceTable = Schemas['DifferenceTable']
export interface Breakdown {
  group?: string
  period?: Period
  weight?: 'tokens' | 'documents'
  unit?: string
  page?: number
}

/** Prevalence of the topics of the strand's fit, broken down. */
export function usePrevalence(by: MaybeRefOrGetter<Breakdown>, enabled: MaybeRefOrGetter<boolean> = true) {
  const { fit } = useTopics()
  return useStrandQuery<PrevalenceTable>(
    'prevalence',
    () => [fit.value, toValue(by)],
    (id) =>
      ask(
        client.GET('/api/strands/{strand_id}/prevalence', { params: { ...strandPath(id), query: { ...toValue(by) } } }),
      ),
    () => !!fit.value && toValue(enabled),
  )
}

/** How each group differs from the others in the topics of the strand's fit. */
export function useDifferences(by: MaybeRefOrGetter<Omit<Breakdown, 'period' | 'page'>>) {
  const { fit } = useTopics()
  return useStrandQuery<DifferenceTable>(
    'differences',
    () => [fit.value, toValue(by)],
    (id) => {
      const { group = '', weight, unit } = toValue(by)
      const query = { group, weight, unit }
      return ask(client.GET('/api/strands/{strand_id}/differences', { params: { ...strandPath(id), query } }))
    },
    () => !!fit.value && !!toValue(by).group,
  )
}
