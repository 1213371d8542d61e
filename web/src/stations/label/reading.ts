import { ref } from 'vue'

import { ask, client, type Topic } from '@/api/client'
import { useStrandChange } from '@/api/strand'
import { useTopics } from '@/api/topics'

type Part = Partial<Pick<Topic, 'label' | 'note' | 'confirmed' | 'set_aside' | 'family' | 'later'>>
interface Change {
  fit: string
  topic: number
  before: Part
}

/** What was changed, the last change last, so that it can be taken back. */
const changes = ref<Change[]>([])
const MOST = 100

/** Save what a person says of a topic; another tab's change is not overwritten. */
export function useReading() {
  const { fit, topics } = useTopics()
  const change = useStrandChange((id, { topic, part }: { topic: Topic; part: Part }) => {
    // As it stands when its turn comes: what was changed before in this tab has been answered by then.
    const now = topics.value[topic.topic] ?? topic
    return ask(
      client.PUT('/api/strands/{strand_id}/topics/{topic}', {
        params: { path: { strand_id: id, topic: topic.topic } },
        body: {
          fit: fit.value ?? '',
          revision: now.revision,
          label: part.label ?? now.label,
          note: part.note ?? now.note,
          confirmed: part.confirmed ?? now.confirmed,
          set_aside: part.set_aside ?? now.set_aside,
          family: part.family ?? now.family,
          later: part.later ?? now.later,
        },
      }),
    )
  })
  function remember(topic: Topic, part: Part) {
    const before = Object.fromEntries(Object.keys(part).map((key) => [key, topic[key as keyof Part]]))
    changes.value = [...changes.value, { fit: fit.value ?? '', topic: topic.topic, before }].slice(-MOST)
  }
  /** Saves only what differs, so that leaving a field unchanged writes nothing. */
  function save(topic: Topic, part: Part) {
    const differs = Object.entries(part).some(([key, value]) => topic[key as keyof Part] !== value)
    const blank = part.confirmed && !(part.label ?? topic.label).trim() && !topic.label && part.note === topic.note
    if (!differs || blank) return
    remember(topic, part)
    change.mutate({ topic, part })
  }
  /** Several topics at once, one after the other. */
  async function saveAll(chosen: Topic[], part: Part) {
    for (const topic of chosen) {
      remember(topic, part)
      await change.mutateAsync({ topic, part }).catch(() => undefined)
    }
  }
  /** Take back the last change of this fit's topics; the topic that it was of. */
  function undo(): number | undefined {
    const last = changes.value[changes.value.length - 1]
    const topic = last?.fit === fit.value ? topics.value[last.topic] : undefined
    if (!topic) return undefined
    changes.value = changes.value.slice(0, -1)
    change.mutate({ topic, part: last.before })
    return topic.topic
  }
  return { save, saveAll, undo, changes }
}
