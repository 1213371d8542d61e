import { computed } from 'vue'

import { ask, client } from '@/api/client'
import { strandPath, useStrandId } from '@/api/strand'
import { useAddress } from '@/frame/selection'

import { filterOf, narrows, onlyHere, type Chosen } from './filter'

/** The search and filters in the address, as the server's parameters and as a step of shaping. */
export function useChosen() {
  const { get, list } = useAddress()
  const id = useStrandId()
  const number = (name: string) => (get(name) === '' ? undefined : Number(get(name)))
  const query = computed<Chosen>(() => ({
    find: get('find'),
    expression: get('as') === 'expression',
    filter: list('where'),
    flag: get('flag') || undefined,
    evidence: get('set') || undefined,
    date_from: get('from') || undefined,
    date_to: get('to') || undefined,
    words_from: number('least'),
    words_to: number('most') === undefined ? undefined : Number(get('most')) + 1,
    language: list('language'),
  }))
  /** What is chosen now as a recorded step. */
  async function asFilter(out: boolean) {
    const only = onlyHere(query.value)
    if (!only) return filterOf(query.value, out)
    const { numbers } = await ask(
      client.GET('/api/strands/{strand_id}/shape/chosen', { params: { ...strandPath(id.value), query: only.query } }),
    )
    return { ...filterOf(query.value, out), numbers, said: only.said }
  }
  return { query, any: computed(() => narrows(query.value)), asFilter }
}
