import { computed, toValue, type MaybeRefOrGetter } from 'vue'

import { ask, client, type Topic } from './client'
import { strandPath, useStrand, useStrandChange, useStrandQuery } from './strand'

/** The topics of the strand's fit, with their identities and what to call them. */
export function useTopics() {
  const { strand, ply } = useStrand()
  const fit = computed(() => ply('fit')?.identity ?? null)
  const query = useStrandQuery(
    'topics',
    fit,
    (id) => ask(client.GET('/api/strands/{strand_id}/topics', { params: strandPath(id) })),
    () => !!strand.value && !!fit.value,
  )
  const topics = computed<Topic[]>(() => (fit.value ? (query.data.value?.topics ?? []) : []))
  const sharesOf = computed(() => query.data.value?.shares_of ?? 'tokens')
  return {
    fit,
    topics,
    /** The measures that topics have, the first one first. */
    measures: computed(() => (fit.value ? (query.data.value?.measures ?? []) : [])),
    query,
    /** What the shares of topics are parts of. */
    sharesOf,
    /** The same where documents weigh by their tokens or alike. */
    sharesBy: (weight = 'tokens') =>
      sharesOf.value === 'tokens'
        ? weight
        : sharesOf.value === 'documents'
          ? 'documents'
          : `${sharesOf.value}, by ${weight}`,
    label: (topic: number) => topics.value[topic]?.title ?? `Topic ${topic + 1}`,
    dye: (topic: number) => topics.value[topic]?.dye ?? topic,
    dyes: computed(() => topics.value.map((topic) => topic.dye)),
  }
}

/** The fits of the same documents that the strand's can be held against: the one before it first, if there was one. */
export function useComparable() {
  const { ply } = useStrand()
  const fit = computed(() => ply('fit')?.identity ?? null)
  return useStrandQuery(
    'comparable',
    fit,
    (id) => ask(client.GET('/api/strands/{strand_id}/compared', { params: strandPath(id) })),
    () => !!fit.value,
  )
}

/** The strand's fit beside another. */
export function useCompared(other: MaybeRefOrGetter<string | undefined>) {
  const { ply } = useStrand()
  return useStrandQuery(
    'compared',
    () => [ply('fit')?.identity, toValue(other)],
    (id) =>
      ask(
        client.GET('/api/strands/{strand_id}/compared/{identity}', {
          params: { path: { strand_id: id, identity: toValue(other) ?? '' } },
        }),
      ),
    () => !!ply('fit')?.identity && !!toValue(other),
  )
}

/** What became of the topics since the fit that the strand had before. */
export function useSinceBefore() {
  const comparable = useComparable()
  const before = computed(() => comparable.data.value?.find((each) => each.last))
  const query = useCompared(() => before.value?.identity)
  const found = computed(() => (before.value ? query.data.value : undefined))
  return {
    before,
    found,
    /** What is to be said of a topic that is not the same as one before; empty where it is. */
    became: (topic: number) => {
      const said = found.value?.now[topic]?.became
      return !said || said === 'same' ? '' : said
    },
  }
}

/** Put a fit on the strand; labels follow the matched topics. */
export const useTakeFit = () =>
  useStrandChange((strandId, fit: string) =>
    ask(client.POST('/api/strands/{strand_id}/take', { params: strandPath(strandId), body: { fit } })),
  )

/** Checks of the fit's topics by people, and what they tell. */
export function useChecks() {
  const { fit } = useTopics()
  return useStrandQuery(
    'checks',
    fit,
    (id) => ask(client.GET('/api/strands/{strand_id}/checks', { params: strandPath(id) })),
    () => !!fit.value,
  )
}

export const useMethods = () =>
  useStrandQuery('methods', 0, (id) => ask(client.GET('/api/strands/{strand_id}/methods', { params: strandPath(id) })))
