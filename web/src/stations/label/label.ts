import { computed, toValue, watch, type MaybeRefOrGetter } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { strandPath, useStrand, useStrandChange, useStrandQuery } from '@/api/strand'
import { useTopics } from '@/api/topics'
import { useJob } from '@/frame/jobs'

export type Ranking = Schemas['RankingKind']['by']
export type Passages = 'sentences' | 'paragraphs'

/** Label candidates of the fit; they are made once when a topic is first read. */
export function useCandidates() {
  const { fit } = useTopics()
  const { newest, atWork } = useJob('reading')
  const query = useStrandQuery(
    'label candidates',
    fit,
    (id) => ask(client.GET('/api/strands/{strand_id}/label-candidates', { params: strandPath(id) })),
    () => !!fit.value,
  )
  const make = useMakeReading()
  const asked = new Set<string>()
  watch(
    () => [query.data.value?.made, fit.value, query.isPlaceholderData.value] as const,
    ([made, of, old]) => {
      if (made !== false || old || !of || asked.has(of) || atWork.value) return
      asked.add(of)
      make.mutate({ candidates: true })
    },
    { immediate: true },
  )
  return {
    query,
    failed: computed(() => newest.value?.state === 'failed' && !query.data.value?.made),
    again: () => make.mutate({ candidates: true }),
    says: computed(() => query.data.value?.says ?? ''),
    of: (topic: number) => query.data.value?.topics[topic] ?? [],
    waiting: computed(() => !!query.data.value && !query.data.value.made),
  }
}

/** Make what topics are read by, in a job. */
export const useMakeReading = () =>
  useStrandChange((id, body: Schemas['ReadingWanted']) =>
    ask(client.POST('/api/strands/{strand_id}/reading', { params: strandPath(id), body })),
  )

/** The words of a topic by one of the ways to rank them. */
export function useTopicWords(
  topic: MaybeRefOrGetter<number>,
  by: MaybeRefOrGetter<Ranking>,
  fold: MaybeRefOrGetter<boolean>,
  limit: MaybeRefOrGetter<number>,
) {
  const { fit } = useTopics()
  return useStrandQuery(
    'words of a topic',
    () => [fit.value, toValue(topic), toValue(by), toValue(fold), toValue(limit)],
    (id) =>
      ask(
        client.GET('/api/strands/{strand_id}/topics/{topic}/words', {
          params: {
            path: { strand_id: id, topic: toValue(topic) },
            query: { by: toValue(by), fold: toValue(fold), limit: toValue(limit) },
          },
        }),
      ),
    () => !!fit.value,
  )
}

/** Places of a word within a topic. */
export function useContexts(topic: MaybeRefOrGetter<number>, term: MaybeRefOrGetter<string>) {
  const { fit } = useTopics()
  return useStrandQuery(
    'contexts of a word',
    () => [fit.value, toValue(topic), toValue(term)],
    (id) =>
      ask(
        client.GET('/api/strands/{strand_id}/topics/{topic}/contexts', {
          params: { path: { strand_id: id, topic: toValue(topic) }, query: { term: toValue(term) } },
        }),
      ),
    () => !!fit.value && !!toValue(term),
  )
}

/** Strong passages of a topic. */
export function usePassages(topic: MaybeRefOrGetter<number>, of: MaybeRefOrGetter<Passages>, limit: number) {
  const { fit } = useTopics()
  return useStrandQuery(
    'passages of a topic',
    () => [fit.value, toValue(topic), toValue(of), limit],
    (id) =>
      ask(
        client.GET('/api/strands/{strand_id}/topics/{topic}/passages', {
          params: { path: { strand_id: id, topic: toValue(topic) }, query: { of: toValue(of), limit } },
        }),
      ),
    () => !!fit.value,
  )
}

/** Which topics might be one, which several, which a family. */
export function useMerging() {
  const { fit } = useTopics()
  return useStrandQuery(
    'merging',
    fit,
    (id) => ask(client.GET('/api/strands/{strand_id}/merging', { params: strandPath(id) })),
    () => !!fit.value,
  )
}

/** What merging some topics would change; nothing where fewer than two are chosen. */
export function useMergePreview(topics: MaybeRefOrGetter<number[]>) {
  const { fit } = useTopics()
  return useStrandQuery(
    'merge preview',
    () => [fit.value, toValue(topics)],
    (id) =>
      ask(
        client.POST('/api/strands/{strand_id}/merging/preview', {
          params: strandPath(id),
          body: { fit: fit.value ?? '', topics: toValue(topics) },
        }),
      ),
    () => !!fit.value && toValue(topics).length > 1,
  )
}

export const useMerge = () =>
  useStrandChange((id, body: Schemas['MergeRequest']) =>
    ask(client.POST('/api/strands/{strand_id}/merging', { params: strandPath(id), body })),
  )

/** Labels of earlier fits that no topic has now. */
export function useLostLabels() {
  const { fit } = useTopics()
  return useStrandQuery(
    'lost labels',
    fit,
    (id) => ask(client.GET('/api/strands/{strand_id}/lost-labels', { params: strandPath(id) })),
    () => !!fit.value,
  )
}

/** Which topics documents hold together. */
export function useTogether(share: MaybeRefOrGetter<number>) {
  const { fit } = useTopics()
  return useStrandQuery(
    'topics together',
    () => [fit.value, toValue(share)],
    (id) =>
      ask(
        client.GET('/api/strands/{strand_id}/topics-together', {
          params: { ...strandPath(id), query: { share: toValue(share) } },
        }),
      ),
    () => !!fit.value,
  )
}

/** How the figures of two topics came about. */
export function usePairWorking(pair: MaybeRefOrGetter<[number, number] | undefined>, share: MaybeRefOrGetter<number>) {
  const { ply } = useStrand()
  return useStrandQuery(
    'pair of topics',
    () => [ply('fit')?.identity, toValue(pair), toValue(share)],
    (id) => {
      const [one, other] = toValue(pair) ?? [0, 1]
      return ask(
        client.GET('/api/strands/{strand_id}/topics-together/{one}/{other}', {
          params: { path: { strand_id: id, one, other }, query: { share: toValue(share) } },
        }),
      )
    },
    () => !!toValue(pair),
  )
}
