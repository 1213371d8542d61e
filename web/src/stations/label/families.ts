import type { Topic } from '@/api/client'

type Sorted = Pick<Topic, 'topic' | 'family' | 'dye' | 'share'>
export interface Family<T extends Sorted> {
  name: string
  topics: T[]
  share: number
}

/** Topics by family, the largest family first; those in none come last, under no name. */
export function familiesOf<T extends Sorted>(topics: T[]): Family<T>[] {
  const found = new Map<string, T[]>()
  for (const topic of topics) found.set(topic.family, [...(found.get(topic.family) ?? []), topic])
  return [...found]
    .map(([name, mine]) => ({ name, topics: mine, share: mine.reduce((sum, each) => sum + each.share.mean, 0) }))
    .sort((a, b) => Number(!a.name) - Number(!b.name) || b.share - a.share)
}
