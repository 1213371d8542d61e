import { computed } from 'vue'

import { ask, client } from '@/api/client'
import type { paths } from '@/api/schema'
import { strandPath, useStrandId } from '@/api/strand'
import { useAddress } from '@/frame/address'

type Asked = NonNullable<paths['/api/strands/{strand_id}/documents']['get']['parameters']['query']>
/** A search with filters, as the server takes it; `words_to` is exclusive. */
export type DocumentQuery = Omit<Asked, 'sort' | 'offset' | 'limit'> & { find: string; expression: boolean }

/** Whether anything narrows the list at all. */
export const narrows = (query: DocumentQuery): boolean =>
  Object.entries(query).some(([name, value]) => {
    if (name === 'expression') return false
    return Array.isArray(value) ? value.length > 0 : !!value || value === 0
  })

/** The parts of an address that narrow the list, as a query. */
export function queryOf(get: (name: string) => string, list: (name: string) => string[]): DocumentQuery {
  const number = (name: string) => (get(name) === '' ? undefined : Number(get(name)))
  const most = number('most')
  return {
    find: get('find'),
    expression: get('as') === 'expression',
    filter: list('where'),
    flag: get('flag') || undefined,
    evidence: get('set') || undefined,
    date_from: get('from') || undefined,
    date_to: get('to') || undefined,
    words_from: number('least'),
    words_to: most === undefined ? undefined : most + 1,
    language: list('language'),
  }
}

/** The search and filters in the address, and what they choose as a step of shaping. */
export function useDocumentQuery() {
  const { get, list } = useAddress()
  const id = useStrandId()
  const query = computed(() => queryOf(get, list))
  const asStep = (out: boolean) =>
    ask(
      client.GET('/api/strands/{strand_id}/shape/step', {
        params: { ...strandPath(id.value), query: { ...query.value, out } },
      }),
    )
  return { query, any: computed(() => narrows(query.value)), asStep }
}
