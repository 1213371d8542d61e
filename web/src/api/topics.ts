import { computed } from 'vue'

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
  return {
    fit,
    topics,
    /** The measures that topics have, the first one first. */
    measures: computed(() => (fit.value ? (query.data.value?.measures ?? []) : [])),
    query,
    label: (topic: number) => topics.value[topic]?.title ?? `Topic ${topic + 1}`,
    dye: (topic: number) => topics.value[topic]?.dye ?? topic,
    dyes: computed(() => topics.value.map((topic) => topic.dye)),
  }
}

/** Put a fit on the strand; labels follow the matched topics. */
export const useTakeFit = () =>
  useStrandChange((strandId, fit: string) =>
    ask(client.POST('/api/strands/{strand_id}/take', { params: strandPath(strandId), body: { fit } })),
  )
