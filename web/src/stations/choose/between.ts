import type { Schemas } from '@/api/client'

export type Column = Schemas['CountColumn']
export type Ribbon = Schemas['Ribbon']

/** The topics of each column in an order in which ribbons cross little: each as high as what it came from. */
export function ordered(columns: Column[], ribbons: Ribbon[]): number[][] {
  const found: number[][] = []
  columns.forEach((column, at) => {
    const topics = column.of.map((each) => each.topic)
    if (!at) return found.push(topics)
    const before = new Map(found[at - 1].map((topic, place) => [topic, place]))
    const height = (topic: number) => {
      const mine = ribbons.filter((each) => each.column === at - 1 && each.now === topic)
      const whole = mine.reduce((sum, each) => sum + each.of_now, 0)
      return whole
        ? mine.reduce((sum, each) => sum + each.of_now * (before.get(each.was) ?? 0), 0) / whole
        : before.size
    }
    const heights = new Map(topics.map((topic) => [topic, height(topic)]))
    return found.push([...topics].sort((a, b) => heights.get(a)! - heights.get(b)! || a - b))
  })
  return found
}

/** How far a topic is found in other fits, in words. */
export function lasting(topic: Schemas['CountTopic']): string {
  if (!topic.fits) return 'no other fit to look in'
  if (topic.since === null) return topic.found ? `in ${topic.found} of ${topic.fits} other fits` : 'in no other fit'
  return `in ${topic.found} of ${topic.fits} other fits from ${topic.since} topics on`
}

/** A topic that no count finds in most of its seeds, and few fits at all. */
export const isAccident = (topic: Schemas['CountTopic']) => !topic.empty && topic.fits > 0 && topic.since === null
