import { computed } from 'vue'

import { ask, client } from '@/api/client'
import { strandPath, useStrand, useStrandQuery } from '@/api/strand'
import { useAddress } from '@/frame/address'

/** Whose terms are looked at: the corpus, a group, a period, a document; it stands in the address. */
export function useScope() {
  const { get, set } = useAddress()
  const { ply } = useStrand()
  const choices = useStrandQuery(
    'scopes',
    () => ply('corpus')?.identity,
    (id) => ask(client.GET('/api/strands/{strand_id}/scopes', { params: strandPath(id) })),
    () => !!ply('corpus')?.identity,
  )
  const scope = computed(() => {
    const period = choices.data.value?.period
    const at = get('when')
    const one = get('doc')
    return {
      field: get('by') || undefined,
      value: get('value') || undefined,
      period: at && period ? period : undefined,
      at: at || undefined,
      document: one === '' ? undefined : Math.max(0, Number(one) - 1),
    }
  })
  const whole = computed(() => Object.values(scope.value).every((each) => each === undefined))
  return { scope, whole, choices: choices.data, get, set }
}
