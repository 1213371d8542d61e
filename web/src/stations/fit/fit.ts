import { computed } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { useStrand, useStrandQuery } from '@/api/strand'
import { useJob } from '@/frame/jobs'

/** What a fit at work says of itself; `grown` holds the shares of topics of all tokens, after iterations. */
export interface Forming {
  trace?: number[][]
  watches?: Schemas['Watched'][]
  top?: string[][]
  iteration?: number
  judged?: string
  grown?: [number, number[]][]
}

/** The fit of the strand in detail, and one that is being made. */
export function useFit() {
  const { ply } = useStrand()
  const { atWork: job, told, progress } = useJob('fit', 'build')
  const fit = computed(() => ply('fit')?.identity)
  const detail = useStrandQuery(
    'fit',
    fit,
    (id) =>
      ask(
        client.GET('/api/strands/{strand_id}/fits/{identity}', {
          params: { path: { strand_id: id, identity: fit.value ?? '' } },
        }),
      ),
    () => !!fit.value,
  )
  return {
    job,
    told,
    progress,
    fit,
    forming: computed(() => (progress.value?.tasks as Forming[] | undefined)?.find((each) => each.trace)),
    found: computed(() => (fit.value ? detail.data.value : undefined)),
  }
}

export { useMethods } from '@/api/topics'
