import type { EvidenceRequest } from '@/api/evidence'
import { ask, client, type Schemas } from '@/api/client'
import type { paths } from '@/api/schema'
import { strandPath, useStrand, useStrandQuery } from '@/api/strand'
import { toValue, type MaybeRefOrGetter } from 'vue'

export type Query = NonNullable<
  paths['/api/strands/{strand_id}/relate/group-words/words']['get']['parameters']['query']
>
type Settings = Schemas['GroupWordsSettings']

/** Words of a group against all others, or one. */
export function useGroupWords(query: MaybeRefOrGetter<Query>) {
  const { ply } = useStrand()
  return useStrandQuery(
    'words of a group',
    () => [ply('group_words')?.identity, toValue(query)],
    (id) =>
      ask(
        client.GET('/api/strands/{strand_id}/relate/group-words/words', {
          params: { ...strandPath(id), query: toValue(query) },
        }),
      ),
    () => !!ply('group_words')?.identity,
  )
}

/** The documents of a group that hold a word. */
export function wordOf(term: string, name: string, settings: Settings): EvidenceRequest {
  if (settings.field) return { term, field: settings.field, value: name }
  if (settings.period) return { term, period: settings.period, at: name }
  return { term }
}

/** A log ratio as how many times as often. */
export const times = (ratio: number) => {
  const factor = 2 ** Math.abs(ratio)
  return `${factor < 9.95 ? factor.toFixed(1) : Math.round(factor)}× ${ratio < 0 ? 'less' : 'more'}`
}
