import { ask, client } from '@/api/client'
import { strandPath } from '@/api/strand'

import { useSoonThenWhole } from './soon'

/** The ways to bring words together, with what each makes of the vocabulary, and the families of the wanted one. */
export const useForms = () =>
  useSoonThenWhole('word forms', (id, quick) =>
    ask(client.GET('/api/strands/{strand_id}/word-forms', { params: { ...strandPath(id), query: { quick } } })),
  ).found
