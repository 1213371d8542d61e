import { ask, client, type Topic } from '@/api/client'
import { useStrandChange } from '@/api/strand'
import { useTopics } from '@/api/topics'

type Part = Partial<Pick<Topic, 'label' | 'note' | 'confirmed' | 'set_aside'>>

/** Save what a person says of a topic; another tab's change is not overwritten. */
export function useReading() {
  const { fit } = useTopics()
  const change = useStrandChange((id, { topic, part }: { topic: Topic; part: Part }) =>
    ask(
      client.PUT('/api/strands/{strand_id}/topics/{topic}', {
        params: { path: { strand_id: id, topic: topic.topic } },
        body: {
          fit: fit.value ?? '',
          revision: topic.revision,
          label: part.label ?? topic.label,
          note: part.note ?? topic.note,
          confirmed: part.confirmed ?? topic.confirmed,
          set_aside: part.set_aside ?? topic.set_aside,
        },
      }),
    ),
  )
  /** Saves only what differs, so that leaving a field unchanged writes nothing. */
  function save(topic: Topic, part: Part) {
    const differs = Object.entries(part).some(([key, value]) => topic[key as keyof Part] !== value)
    const blank = part.confirmed && !(part.label ?? topic.label).trim() && !topic.label && part.note === topic.note
    if (differs && !blank) change.mutate({ topic, part })
  }
  return { save }
}
