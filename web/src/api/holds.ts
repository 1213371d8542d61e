import { ask, client, type Schemas } from './client'
import { strandPath, useStrandChange, useStrandQuery } from './strand'
import { useTopics } from './topics'

export type Holds = Schemas['Holds']
export type PinnedEntry = Schemas['PinnedEntry']
export type HeldMark = Schemas['HeldMark']
export type Verdict = NonNullable<HeldMark['verdict']>
/** What is said: who holds more of a topic, or of a word, than whom. */
export type Said = Schemas['SayingOf']

/** What was pinned, and how it comes out over other choices. */
export function useHolds() {
  const { fit } = useTopics()
  return useStrandQuery<Holds>('holds', fit, (id) =>
    ask(client.GET('/api/strands/{strand_id}/holds', { params: strandPath(id) })),
  )
}

/** Pin a statement. */
export const usePin = () =>
  useStrandChange((id, body: Said) =>
    ask(client.POST('/api/strands/{strand_id}/pins', { params: strandPath(id), body })),
  )

/** Take a statement off. */
export const useTakeOff = () =>
  useStrandChange((id, pin: number) =>
    ask(client.DELETE('/api/strands/{strand_id}/pins/{pin}', { params: { path: { strand_id: id, pin } } })),
  )

/** Test statements over choices, in a job. */
export const useTrials = () =>
  useStrandChange((id, body: { pins: number[]; over: string[] }) =>
    ask(client.POST('/api/strands/{strand_id}/pins/trials', { params: strandPath(id), body })),
  )

/** A strand with the results of a choice; its number. */
export async function openChoice(strand: number, pin: number, key: string) {
  const params = { path: { strand_id: strand, pin } }
  const made = await ask(client.POST('/api/strands/{strand_id}/pins/{pin}/strand', { params, body: { key } }))
  return made.strand
}
