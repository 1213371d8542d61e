import { toValue, type MaybeRefOrGetter } from 'vue'

import { ask, client, type Schemas } from './client'
import { makeOnce } from './once'
import { strandPath, useStrandChange, useStrandQuery } from './strand'
import { useTopics } from './topics'

export type PrevalenceTable = Schemas['PrevalenceTable']
export type PrevalenceCell = Schemas['Cell']
export type PeriodOf = Schemas['PeriodOf']
export type Period = NonNullable<PrevalenceTable['period']>
export type DifferenceTable = Schemas['DifferenceTable']
export type MovementTable = Schemas['MovementTable']
export type ContrastTable = Schemas['ContrastTable']
export type OwnWordsTable = Schemas['OwnWordsTable']
export type Smooth = Schemas['TrackChoices']['smooth'][number]
/** What prevalence is broken down by. */
export interface Breakdown {
  group?: string
  period?: Period
  breaks?: string[]
  weight?: 'tokens' | 'documents'
  unit?: string
  design?: string
  fixed?: string[]
}
/** Two selections; the other is all other documents where it is not given. */
export interface Sides {
  value?: string
  at?: string
  against_value?: string
  against_at?: string
}

/** What there is to choose from, and what is suggested. */
export function useTrackChoices() {
  const { fit } = useTopics()
  return useStrandQuery(
    'track',
    fit,
    (id) => ask(client.GET('/api/strands/{strand_id}/track', { params: strandPath(id) })),
    () => !!fit.value,
  )
}

/** Prevalence of the topics of the strand's fit, broken down. */
export function usePrevalence(
  by: MaybeRefOrGetter<Breakdown & { topic?: number[]; page?: number; smooth?: Smooth }>,
  enabled: MaybeRefOrGetter<boolean> = true,
) {
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
export function useDifferences(by: MaybeRefOrGetter<Breakdown>) {
  const { fit } = useTopics()
  return useStrandQuery<DifferenceTable>(
    'differences',
    () => [fit.value, toValue(by)],
    (id) => {
      const query = { ...toValue(by), group: toValue(by).group ?? '' }
      return ask(client.GET('/api/strands/{strand_id}/differences', { params: { ...strandPath(id), query } }))
    },
    () => !!fit.value && !!toValue(by).group,
  )
}

/** What moves and differs; it is worked out in a job when it is first looked at. */
export function useMovement(by: MaybeRefOrGetter<Breakdown>, enabled: MaybeRefOrGetter<boolean>) {
  const { fit } = useTopics()
  const query = useStrandQuery<MovementTable>(
    'movement',
    () => [fit.value, toValue(by)],
    (id) =>
      ask(
        client.GET('/api/strands/{strand_id}/movement', { params: { ...strandPath(id), query: { ...toValue(by) } } }),
      ),
    () => !!fit.value && toValue(enabled),
  )
  const make = useStrandChange((id, body: Breakdown) =>
    ask(
      client.POST('/api/strands/{strand_id}/movement', {
        params: strandPath(id),
        body: { breaks: [], weight: 'tokens', fixed: [], ...JSON.parse(JSON.stringify(body)) },
      }),
    ),
  )
  const again = () => make.mutate(toValue(by))
  makeOnce(
    () => query.data.value?.judged === false && !query.isPlaceholderData.value,
    () => `${fit.value} ${JSON.stringify(toValue(by))}`,
    again,
  )
  return { query, again }
}

/** Two selections held against each other. */
export function useContrast(by: MaybeRefOrGetter<Breakdown & Sides>, enabled: MaybeRefOrGetter<boolean>) {
  const { fit } = useTopics()
  return useStrandQuery<ContrastTable>(
    'contrast',
    () => [fit.value, toValue(by)],
    (id) =>
      ask(
        client.GET('/api/strands/{strand_id}/contrast', { params: { ...strandPath(id), query: { ...toValue(by) } } }),
      ),
    () => !!fit.value && toValue(enabled),
  )
}

/** How one topic's difference came about. */
export function useContrastWorking(
  by: MaybeRefOrGetter<Breakdown & Sides>,
  topic: MaybeRefOrGetter<number | undefined>,
) {
  const { fit } = useTopics()
  return useStrandQuery(
    'contrast working',
    () => [fit.value, toValue(by), toValue(topic)],
    (id) =>
      ask(
        client.GET('/api/strands/{strand_id}/contrast/working', {
          params: { ...strandPath(id), query: { ...toValue(by), topic: toValue(topic) ?? 0 } },
        }),
      ),
    () => !!fit.value && toValue(topic) !== undefined,
  )
}

/** What a topic is said with in each group, or at each time. */
export function useOwnWords(
  by: MaybeRefOrGetter<Breakdown & { topic: number; halves?: boolean }>,
  enabled: MaybeRefOrGetter<boolean>,
) {
  const { fit } = useTopics()
  return useStrandQuery<OwnWordsTable>(
    'own words',
    () => [fit.value, toValue(by)],
    (id) =>
      ask(
        client.GET('/api/strands/{strand_id}/own-words', { params: { ...strandPath(id), query: { ...toValue(by) } } }),
      ),
    () => !!fit.value && toValue(enabled),
  )
}

/** How the share of one topic in one cell came about. */
export function useShareWorking(
  by: MaybeRefOrGetter<Breakdown>,
  cell: MaybeRefOrGetter<{ topic: number; value?: string; at?: string } | undefined>,
) {
  const { fit } = useTopics()
  return useStrandQuery(
    'share working',
    () => [fit.value, toValue(by), toValue(cell)],
    (id) =>
      ask(
        client.GET('/api/strands/{strand_id}/prevalence/working', {
          params: { ...strandPath(id), query: { ...toValue(by), ...(toValue(cell) ?? { topic: 0 }) } },
        }),
      ),
    () => !!fit.value && !!toValue(cell),
  )
}
