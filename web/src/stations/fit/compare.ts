import type { Schemas } from '@/api/client'

/** The topics of the present fit in an order in which the threads from the other cross little. */
export function placed(threads: Schemas['ComparedThread'][], was: number[], now: number[]): number[] {
  const from = new Map(was.map((topic, at) => [topic, at]))
  const place = (topic: number) => {
    const mine = threads.filter((each) => each.now === topic)
    const tokens = mine.reduce((sum, each) => sum + each.tokens, 0)
    return tokens ? mine.reduce((sum, each) => sum + each.tokens * (from.get(each.was) ?? 0), 0) / tokens : was.length
  }
  const places = new Map(now.map((topic) => [topic, place(topic)]))
  return [...now].sort((a, b) => places.get(a)! - places.get(b)! || now.indexOf(a) - now.indexOf(b))
}

/** A thread between two columns, from one height to another, with the sag of a thread. */
export const between = (width: number, from: number, to: number) =>
  `M0 ${from}C${width / 2} ${from + 5} ${width / 2} ${to + 5} ${width} ${to}`

export const BECAME: Record<Schemas['ComparedTopic']['became'], string> = {
  same: '',
  split: 'split',
  merged: 'merged',
  gone: 'gone',
  new: 'new',
}
