import {
  keepPreviousData,
  useInfiniteQuery,
  useMutation,
  useQuery,
  useQueryClient,
  type InfiniteData,
} from '@tanstack/vue-query'
import { computed, ref, toValue, watch, type MaybeRefOrGetter } from 'vue'
import { useRoute } from 'vue-router'

import { ask, client, type Problem, type Strand, type Wanted } from './client'
import { answered, fetched, pending, settled, shown } from './wanted'

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
  const queries = useQueryClient()
  const query = useQuery({
    queryKey: computed(() => ['strand', id.value, 'record']),
    queryFn: async ({ queryKey }) => {
      const record = await ask(client.GET('/api/strands/{strand_id}', { params: strandPath(id.value) }))
      return fetched(record, queries.getQueryData<Strand>(queryKey))
    },
    enabled: computed(() => id.value > 0),
  })
  const ply = (step: string) =>
    [...(query.data.value?.plies ?? []), ...(query.data.value?.beside ?? [])].find((each) => each.step === step)
  /** What the results of the strand say of themselves in numbers, by step. */
  const made = computed(() => query.data.value?.summaries ?? {})
  return { id, strand: query.data, error: query.error, ply, made }
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
    enabled: computed(() => id.value > 0 && settled.value && toValue(enabled)),
    placeholderData: keepPreviousData,
  })
}

/** What the server answers of a long text in parts. */
interface Parted {
  part: number
  parts: number
}

/** Parts of a text that stand on the screen at once; others are asked for as one comes to them. */
const PARTS_SHOWN = 4

/** A text in parts: the first, or one that is asked for, then its neighbours as they come into view. */
export function useStrandParts<T extends Parted>(
  name: string,
  key: MaybeRefOrGetter<unknown>,
  fetch: (id: number, part: number | undefined) => Promise<T>,
  enabled: MaybeRefOrGetter<boolean> = true,
) {
  const id = useStrandId()
  const start = ref<number>()
  const whole = computed(() => ['strand', id.value, name, toValue(key)])
  watch(
    () => JSON.stringify(whole.value),
    () => (start.value = undefined),
  )
  const query = useInfiniteQuery<T, Problem, InfiniteData<T>, unknown[], number | undefined>({
    queryKey: computed(() => [...whole.value, start.value]),
    queryFn: ({ pageParam }) => fetch(id.value, pageParam),
    initialPageParam: start as never,
    getNextPageParam: (last) => (last.part + 1 < last.parts ? last.part + 1 : undefined),
    getPreviousPageParam: (first) => (first.part > 0 ? first.part - 1 : undefined),
    maxPages: PARTS_SHOWN,
    enabled: computed(() => id.value > 0 && settled.value && toValue(enabled)),
    placeholderData: keepPreviousData,
  })
  const pages = computed(() => query.data.value?.pages ?? [])
  return { ...query, pages, first: computed(() => pages.value[0]), goTo: (part: number) => (start.value = part) }
}

/** Requests that change the strand; every view of it follows. A refusal is said by the application. */
export function useStrandChange<Input>(change: (id: number, input: Input) => Promise<unknown>) {
  const id = useStrandId()
  const queries = useQueryClient()
  return useMutation<unknown, Problem, Input>({
    // Behind the changes of settings that are on their way.
    scope: { id: 'wanted' },
    mutationFn: (input) => change(id.value, input),
    onSettled: () => queries.invalidateQueries({ queryKey: ['strand', id.value] }),
  })
}

/**
 * Change the wanted settings.
 *
 * A change shows at once and is sent after those before it, so that quick changes neither overwrite
 * nor contradict each other; only another tab's change is a conflict.
 */
export function useWanted() {
  const { strand } = useStrand()
  const id = useStrandId()
  const queries = useQueryClient()
  const key = () => ['strand', id.value, 'record']

  function useInTurn<Input>(send: (input: Input) => Promise<Strand>) {
    return useMutation<unknown, Problem, Input>({
      scope: { id: 'wanted' },
      mutationFn: async (input) => {
        const record = await send(input)
        queries.setQueryData<Strand>(key(), (now) => shown(record, now))
      },
      onSettled: () => (answered() ? queries.invalidateQueries({ queryKey: ['strand', id.value] }) : undefined),
    })
  }
  const revisionNow = () => queries.getQueryData<Strand>(key())?.revision ?? 1
  const edit = useInTurn((wanted: Wanted) => {
    const revision = revisionNow()
    const params = strandPath(id.value)
    return ask(client.PUT('/api/strands/{strand_id}/wanted', { params, body: { revision, wanted } }))
  })
  const back = useInTurn((redo: boolean) => {
    const query = { redo, revision: revisionNow() }
    return ask(client.POST('/api/strands/{strand_id}/undo', { params: { ...strandPath(id.value), query } }))
  })
  /** Whether the change was taken. */
  async function change(part: Partial<Wanted>) {
    if (!strand.value) return false
    const wanted = { ...strand.value.wanted, ...part }
    pending()
    queries.setQueryData<Strand>(key(), { ...strand.value, wanted })
    return edit.mutateAsync(wanted).then(
      () => true,
      () => false,
    )
  }
  function step(redo: boolean) {
    pending()
    return back.mutateAsync(redo).catch(() => undefined)
  }
  return { wanted: computed(() => strand.value?.wanted), change, undo: () => step(false), redo: () => step(true) }
}

/** Make everything that is out of date again. */
export function useRebuild() {
  return useStrandChange<void>((id) => ask(client.POST('/api/strands/{strand_id}/rebuild', { params: strandPath(id) })))
}
