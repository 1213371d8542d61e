import { useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { strandPath, useStrand, useStrandChange, useStrandId, useStrandQuery } from '@/api/strand'
import { useAddress } from '@/frame/address'

import { shown } from './sweep'

export type ComparedBy = Pick<Schemas['Choose'], 'by' | 'top' | 'leaving' | 'series' | 'reference'>
export type Candidate = Schemas['Candidate']

/** How fits are compared, as it stands in the address. */
export function useHow() {
  const { get, set } = useAddress()
  const how = computed<ComparedBy>(() => ({
    ...(get('series') && { series: Number(get('series')) }),
    by: (get('by') || 'coherence') as ComparedBy['by'],
    top: Number(get('top') || 10) as ComparedBy['top'],
    leaving: get('leaving').split(',').filter(Boolean) as ComparedBy['leaving'],
    ...(get('reference') && { reference: get('reference') }),
  }))
  return { how, set, get }
}

/** The fits of the strand's matrix compared, and a suggestion from them. */
export function useFits() {
  const { ply } = useStrand()
  const { how, get } = useHow()
  const query = useStrandQuery(
    'fits',
    () => [ply('matrix')?.identity, how.value],
    (id) => ask(client.GET('/api/strands/{strand_id}/fits', { params: { ...strandPath(id), query: how.value } })),
    () => !!ply('matrix')?.identity,
  )
  const found = computed(() => query.data.value)
  /** The counts of its fits, rising. */
  const tried = computed(() => [...new Set((found.value?.fits ?? []).map((fit) => fit.settings.topics))])
  /** Its measures that are to be shown. */
  const shownMeasures = computed(() =>
    shown(found.value?.measures ?? [], get('show').split(',').filter(Boolean), how.value.by ?? 'coherence'),
  )
  return { query, found, tried, shownMeasures }
}

/** Some counts side by side; those that are suggested where none are given. */
export function useBetween(counts: MaybeRefOrGetter<number[]>) {
  const { ply } = useStrand()
  const { how } = useHow()
  return useStrandQuery(
    'between counts',
    () => [ply('matrix')?.identity, how.value, toValue(counts)],
    (id) =>
      ask(
        client.GET('/api/strands/{strand_id}/between-counts', {
          params: { ...strandPath(id), query: { ...how.value, counts: toValue(counts) } },
        }),
      ),
    () => !!ply('matrix')?.identity,
  )
}

/** How long a sweep will take, measured by a short trial; nothing where it can't be made. */
export function useSweepTime(request: MaybeRefOrGetter<Schemas['SweepRequest'] | undefined>) {
  const id = useStrandId()
  const { ply } = useStrand()
  return useQuery({
    queryKey: computed(() => ['strand', id.value, 'sweep time', ply('matrix')?.identity, toValue(request)]),
    queryFn: () =>
      ask(
        client.POST('/api/strands/{strand_id}/sweep-time', { params: strandPath(id.value), body: toValue(request)! }),
      ),
    enabled: computed(() => !!ply('matrix')?.identity && !!toValue(request)),
    retry: false,
  })
}

/** The choice that was made, if one was. */
export function useChoice() {
  const { ply } = useStrand()
  return useStrandQuery(
    'choice',
    () => ply('fit')?.identity,
    (id) => ask(client.GET('/api/strands/{strand_id}/choice', { params: strandPath(id) })),
    () => !!ply('matrix')?.identity,
  )
}

/** Choose a fit with a reason; it goes on with all documents. */
export function useChoose() {
  const { how } = useHow()
  return useStrandChange((id, { fit, reason }: { fit: string; reason: string }) =>
    ask(
      client.POST('/api/strands/{strand_id}/choice', {
        params: strandPath(id),
        body: { ...how.value, leaving: how.value.leaving ?? [], fit, reason },
      }),
    ),
  )
}

/** Say of a topic of a fit that it is to be kept apart, is the same thing as another, or none. */
export const useVote = () =>
  useStrandChange((id, edit: Schemas['VoteEdit']) =>
    ask(client.PUT('/api/strands/{strand_id}/votes', { params: strandPath(id), body: edit })),
  )

/** The fit in the address; the steadiest of the suggested count; else the strand's own, or the first. */
export function useChosenFit() {
  const { found } = useFits()
  const { get } = useHow()
  return computed(() => {
    const fits = found.value?.fits ?? []
    const best = found.value?.candidates.find((each) => each.topics === found.value?.suggested)?.best
    return (
      fits.find((fit) => fit.identity === get('fit')) ??
      fits.find((fit) => fit.identity === best) ??
      fits.find((fit) => fit.current) ??
      fits[0]
    )
  })
}

/** How a measure of a fit came about, of one of its topics. */
export function useMeasureWorking(
  fit: MaybeRefOrGetter<string | undefined>,
  measure: MaybeRefOrGetter<string | undefined>,
  topic: MaybeRefOrGetter<number>,
) {
  const { how } = useHow()
  return useStrandQuery(
    'measure working',
    () => [toValue(fit), toValue(measure), toValue(topic), how.value],
    (id) =>
      ask(
        client.GET('/api/strands/{strand_id}/fits/{identity}/measures/{key}', {
          params: {
            path: { strand_id: id, identity: toValue(fit)!, key: toValue(measure)! },
            query: { ...how.value, topic: toValue(topic) },
          },
        }),
      ),
    () => !!toValue(fit) && !!toValue(measure),
  )
}

/** Other texts in which coherence may be looked at. */
export const useReferences = () =>
  useStrandQuery('references', 0, (id) =>
    ask(client.GET('/api/strands/{strand_id}/references', { params: strandPath(id) })),
  )

/** Measure the fits that are compared by all measures. */
export function useMeasuring() {
  const { how } = useHow()
  return useStrandChange<void>((id) =>
    ask(
      client.POST('/api/strands/{strand_id}/measures', {
        params: strandPath(id),
        body: { ...how.value, leaving: how.value.leaving ?? [] },
      }),
    ),
  )
}
