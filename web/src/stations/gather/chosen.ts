import { computed } from 'vue'

import { ask, client } from '@/api/client'
import { strandPath, useStrandId } from '@/api/strand'
import { useAddress } from '@/frame/selection'

import type { Filter } from './shape'

/** The search and filters in the address, as the server's parameters and as a step of shaping. */
export function useChosen() {
  const { get, list } = useAddress()
  const id = useStrandId()
  const number = (name: string) => (get(name) === '' ? undefined : Number(get(name)))
  const query = computed(() => ({
    find: get('find'),
    expression: get('as') === 'expression',
    filter: list('where'),
    flag: get('flag') || undefined,
    evidence: get('set') || undefined,
    year_from: number('from'),
    year_to: number('to'),
    words_from: number('least'),
    words_to: number('most') === undefined ? undefined : Number(get('most')) + 1,
    language: list('language'),
  }))
  const any = computed(() => {
    const { find, expression, ...rest } = query.value
    return (
      !!find ||
      (expression && !!find) ||
      Object.values(rest).some((each) => (Array.isArray(each) ? each.length : each !== undefined))
    )
  })
  /** The same as a recorded step; what only this corpus knows goes in as numbers of documents. */
  async function asFilter(out: boolean): Promise<Filter> {
    const now = query.value
    const where: Record<string, string[]> = {}
    for (const each of now.filter) {
      const [field, ...value] = each.split(':')
      where[field] = [...(where[field] ?? []), value.join(':')]
    }
    const filter: Filter = {
      kind: 'filter',
      out,
      where,
      words_from: now.words_from ?? null,
      words_to: now.words_to ?? null,
      languages: now.language,
      date_from: now.year_from ? String(now.year_from).padStart(4, '0') : '',
      date_to: now.year_to ? String(now.year_to).padStart(4, '0') : '',
      undated: now.flag === 'undated' ? true : null,
      garbled: now.flag === 'garbled' ? true : null,
      search: now.expression ? '' : now.find,
      expression: now.expression ? now.find : '',
      numbers: null,
      said: '',
    }
    const flagged = now.flag && !['undated', 'garbled'].includes(now.flag)
    if (!flagged && !now.evidence) return filter
    const { numbers } = await ask(
      client.GET('/api/strands/{strand_id}/shape/chosen', {
        params: {
          ...strandPath(id.value),
          query: { flag: flagged ? now.flag : undefined, evidence: now.evidence },
        },
      }),
    )
    const what = [flagged ? now.flag : '', now.evidence ? 'the evidence set' : ''].filter(Boolean).join(' and ')
    return { ...filter, numbers, said: what }
  }
  return { query, any, asFilter }
}
