import type { Topic } from '@/api/client'

type Read = Pick<Topic, 'topic' | 'confirmed' | 'later' | 'set_aside' | 'empty'>

/** Whether there is something left to do on a topic. */
export const isOpen = (topic: Read) => !topic.confirmed && !topic.set_aside && !topic.empty

/** The next topic to read after one, those put off last; none where all have a name or are set aside. */
export function nextToRead(topics: Read[], after: number): number | undefined {
  const order = [...topics.slice(after + 1), ...topics.slice(0, after)].filter(isOpen)
  return (order.find((each) => !each.later) ?? order[0])?.topic
}

/** How far one is: named, put off, and left. */
export function progressOf(topics: Read[]) {
  const open = topics.filter(isOpen)
  const later = open.filter((each) => each.later).length
  return { of: topics.length, named: topics.filter((each) => each.confirmed).length, later, left: open.length - later }
}
