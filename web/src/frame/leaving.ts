import { useMutation, useQueryClient } from '@tanstack/vue-query'
import { useRoute } from 'vue-router'

import { ask, client, type Problem, type Strand } from '@/api/client'
import { strandPath, useStrand, useStrandId, useStrandQuery } from '@/api/strand'

import { useEvidence } from './evidence'
import { say } from './notices'
import { useStations } from './station'

/** The single word that is marked in a text, if one is. */
export function wordMarked(selection: Selection | null = window.getSelection()): string {
  const word = selection?.toString().trim() ?? ''
  const inText = selection?.anchorNode?.parentElement?.closest('.book')
  return inText && /^[\p{L}\p{M}\p{N}'’_-]+$/u.test(word) ? word : ''
}

/** Words that are left out with the next rebuild, and the rounds so far. */
export function useLeftOut() {
  const { strand, ply } = useStrand()
  const query = useStrandQuery(
    'left out',
    () => strand.value?.wanted.clean,
    (id) => ask(client.GET('/api/strands/{strand_id}/left-out', { params: strandPath(id) })),
    () => !!ply('cleaning')?.identity,
  )
  return query.data
}

/** Leave words out from the next rebuild on, from wherever they are shown. */
export function useLeaveOut() {
  const id = useStrandId()
  const route = useRoute()
  const stations = useStations()
  const queries = useQueryClient()
  const { request, topic } = useEvidence()
  /** What is looked at: the station, and what is selected there. */
  function lookedAt() {
    const station = stations.find((each) => each.name === route.name)?.label ?? ''
    const selected = request.value
    const what =
      topic.value !== undefined
        ? `topic ${topic.value + 1}`
        : (selected?.term ?? selected?.word ?? selected?.removed_by ?? selected?.value ?? '')
    return [station, what].filter(Boolean).join(', ')
  }
  const mutation = useMutation<unknown, Problem, { words?: string[]; terms?: string[] }>({
    scope: { id: 'wanted' },
    mutationFn: async ({ words = [], terms = [] }) => {
      const key = ['strand', id.value, 'record']
      const revision = queries.getQueryData<Strand>(key)?.revision ?? 1
      const body = { revision, words, terms, looked_at: lookedAt() }
      const record = await ask(client.POST('/api/strands/{strand_id}/left-out', { params: strandPath(id.value), body }))
      queries.setQueryData<Strand>(key, record)
    },
    onSettled: () => queries.invalidateQueries({ queryKey: ['strand', id.value] }),
  })
  const leave = (wanted: { words?: string[]; terms?: string[] }) =>
    mutation.mutateAsync(wanted).catch((fault: Problem) => say(fault.message, 'bad'))
  return {
    leaveOut: (...words: string[]) => leave({ words }),
    leaveTermOut: (term: string) => leave({ terms: [term] }),
  }
}
