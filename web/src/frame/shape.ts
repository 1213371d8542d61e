import { computed } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { strandPath, useRebuild, useStrand, useStrandId, useStrandQuery, useWanted } from '@/api/strand'

export type Operation = NonNullable<Schemas['Wanted']['shape']>[number]

/** The field that groups documents, where one does; else the first. */
export const suggestedField = (fields: Schemas['FieldSummary'][]) =>
  (fields.find((each) => each.role === 'group') ?? fields[0])?.name ?? ''

/** The recorded operations on the corpus; a change is done at once, with all that follows from it. */
export function useShape() {
  const { strand, ply } = useStrand()
  const id = useStrandId()
  const { change, undo } = useWanted()
  const rebuild = useRebuild()
  const operations = computed(() => (strand.value?.wanted.shape ?? []) as Operation[])
  const corpus = computed(() => ply('corpus')?.identity)
  const steps = useStrandQuery(
    'shape',
    [corpus, operations],
    (strandId) => ask(client.GET('/api/strands/{strand_id}/shape', { params: strandPath(strandId) })),
    () => !!corpus.value,
  )
  async function set(shape: Operation[]) {
    if (await change({ shape })) rebuild.mutate()
  }
  return {
    operations,
    steps,
    add: (operation: Operation) => set([...operations.value, operation]),
    /** Add an operation in the place of those like it. */
    put: (operation: Operation, like: (each: Operation) => boolean) =>
      set([...operations.value.filter((each) => !like(each)), operation]),
    remove: (at: number) => set(operations.value.filter((_, index) => index !== at)),
    undo: async () => {
      await undo()
      rebuild.mutate()
    },
    /** What an operation would leave. */
    attempt: (operation: Operation) =>
      ask(client.POST('/api/strands/{strand_id}/shape/try', { params: strandPath(id.value), body: { operation } })),
  }
}
