import { toValue, type MaybeRefOrGetter } from 'vue'

import { ask, client, type Schemas } from './client'
import { strandPath, useStrandChange, useStrandQuery } from './strand'
import { useTopics } from './topics'

export type ApartTable = Schemas['ApartTable']
export type ApartPart = Schemas['ApartPart']
export type ApartCell = Schemas['ApartCell']
export type OwnTopic = Schemas['OwnTopic']
/** By what documents are parted, and how each part is fitted. */
export type Parting = Partial<Schemas['PartingQuery']>

/** What each topic of the fit became in the model of each part. */
export function useApart(of: MaybeRefOrGetter<Parting | undefined>) {
  const { fit } = useTopics()
  return useStrandQuery<ApartTable>(
    'apart',
    () => [fit.value, toValue(of)],
    (id) =>
      ask(client.GET('/api/strands/{strand_id}/apart', { params: { ...strandPath(id), query: { ...toValue(of) } } })),
    () => !!fit.value && !!toValue(of),
  )
}

/** Fit a model for each part, in a job. */
export const useFitParts = () =>
  useStrandChange((id, body: Parting) =>
    ask(
      client.POST('/api/strands/{strand_id}/apart', {
        params: strandPath(id),
        body: JSON.parse(JSON.stringify(body)),
      }),
    ),
  )

export type Streams = Schemas['Streams']
export type StreamTopic = Schemas['StreamTopic']

/** Topics through periods: of the one fit, or of a model for each period, which `useApart` makes. */
export function useStreams(of: MaybeRefOrGetter<(Parting & { whole: boolean }) | undefined>) {
  const { fit } = useTopics()
  return useStrandQuery<Streams>(
    'streams',
    () => [fit.value, toValue(of)],
    (id) =>
      ask(client.GET('/api/strands/{strand_id}/streams', { params: { ...strandPath(id), query: { ...toValue(of) } } })),
    () => !!fit.value && !!toValue(of),
  )
}
