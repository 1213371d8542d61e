import { computed } from 'vue'

import { ask, client, type Topic } from './client'
import { strandPath, useStrand, useStrandQuery } from './strand'

/** The topics of the strand's fit, with their identities and labels. */
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
  const label = (topic: number) => {
    const found = topics.value[topic]
    if (!found) return `Topic ${topic + 1}`
    return found.label || suggestion(found)
  }
  return {
    fit,
    topics,
    query,
    label,
    dye: (topic: number) => topics.value[topic]?.dye ?? topic,
    dyes: computed(() => topics.value.map((topic) => topic.dye)),
  }
}

/** What to call a topic that nobody has labelled: its first words. */
export const suggestion = (topic: Topic) =>
  topic.words
    .slice(0, 3)
    .map((word) => word.display)
    .join(' ')
