import { computed } from 'vue'

import { ask, client } from '@/api/client'
import { strandPath, useStrand, useStrandQuery } from '@/api/strand'
import { useAddress } from '@/frame/address'

import { begun } from './specimen'

/** The beginning of the document that is the specimen, to compare ways of reading on, and its language. */
export function useSentence() {
  const { made } = useStrand()
  const { get } = useAddress()
  const document = computed(() => (get('doc') === '' ? undefined : Number(get('doc'))))
  const query = useStrandQuery(
    'sentence',
    document,
    (id) =>
      ask(
        client.GET('/api/strands/{strand_id}/specimen', {
          params: { ...strandPath(id), query: { document: document.value, until: 'tokens', quick: true } },
        }),
      ),
    () => (made.value.corpus?.documents ?? 0) > 0,
  )
  return computed(() => ({
    text: query.data.value ? begun(query.data.value.segments) : '',
    language: query.data.value?.language ?? '',
  }))
}
