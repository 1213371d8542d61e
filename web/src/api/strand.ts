import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { useRoute } from 'vue-router'

import { say } from '@/frame/notices'

import { ask, client, type Problem, type Strand, type Wanted } from './client'

/** The number of the strand in the address. */
export function useStrandId() {
  const route = useRoute()
  return computed(() => Number(route.params.strand ?? 0))
}

export function strandPath(id: number) {
  return { path: { strand_id: id } }
}

/** The strand in the address, with its chain and wanted settings. */
export function useStrand() {
  const id = useStrandId()
  const query = useQuery({
    queryKey: computed(() => ['strand', id.value, 'record']),
    queryFn: () => ask(client.GET('/api/strands/{strand_id}', { params: strandPath(id.value) })),
    enabled: computed(() => id.value > 0),
  })
  const ply = (step: string) => query.data.value?.plies.find((each) => each.step === step)
  return { id, strand: query.data, error: query.error, ply }
}

/** Something the server computes from the strand; asked again whenever the strand changes. */
export function useStrandQuery<T>(
  name: string,
  key: MaybeRefOrGetter<unknown>,
  fetch: (id: number) => Promise<T>,
  enabled: MaybeRefOrGetter<boolean> = true,
) {
  const id = useStrandId()
  return useQuery<T, Problem>({
    queryKey: computed(() => ['strand', id.value, name, toValue(key)]),
    queryFn: () => fetch(id.value),
    enabled: computed(() => id.value > 0 && toValue(enabled)),
    placeholderData: keepPreviousData,
  })
}

/** Requests that change the strand; every view of it follows, and a refusal is said. */
export function useStrandChange<Input>(change: (id: number, input: Input) => Promise<unknown>) {
  const id = useStrandId()
  const queries = useQueryClient()
  return useMutation<unknown, Problem, Input>({
    mutationFn: (input) => change(id.value, input),
    onError: (fault) => say(fault.message, 'bad'),
    onSettled: () => queries.invalidateQueries({ queryKey: ['strand', id.value] }),
  })
}

/** Change the wanted settings. */
export function useWanted() {
  const { strand } = useStrand()
  const id = useStrandId()
  const queries = useQueryClient()
  const edit = useStrandChange(async (strandId, wanted: Wanted) => {
    const record = await ask(
      client.PUT('/api/strands/{strand_id}/wanted', {
        params: strandPath(strandId),
        body: { revision: strand.value?.revision ?? 0, wanted },
      }),
    )
    queries.setQueryData<Strand>(['strand', id.value, 'record'], record)
  })
  const back = useStrandChange((strandId, redo: boolean) =>
    ask(
      client.POST('/api/strands/{strand_id}/undo', {
        params: { ...strandPath(strandId), query: { redo } },
      }),
    ),
  )
  return {
    wanted: computed(() => strand.value?.wanted),
    change: (part: Partial<Wanted>) => strand.value && edit.mutate({ ...strand.value.wanted, ...part }),
    undo: () => back.mutate(false),
    redo: () => back.mutate(true),
  }
}

/** Make everything that is out of date again. */
export function useRebuild() {
  return useStrandChange<void>((id) => ask(client.POST('/api/strands/{strand_id}/rebuild', { params: strandPath(id) })))
}
