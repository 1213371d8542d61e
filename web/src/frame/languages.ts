import { useMutation } from '@tanstack/vue-query'

import { ask, client, type Problem, type Schemas } from '@/api/client'
import { strandPath, useStrandId } from '@/api/strand'

import { say } from './notices'

/** A strand for each language of the documents. */
export function useLanguageStrands() {
  const id = useStrandId()
  return useMutation<Schemas['LanguageStrand'][], Problem>({
    mutationFn: () => ask(client.POST('/api/strands/{strand_id}/split', { params: strandPath(id.value) })),
    onError: (fault) => say(fault.message, 'bad'),
  })
}
