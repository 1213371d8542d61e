import { toValue, type MaybeRefOrGetter } from 'vue'

import { ask, client, type Schemas } from './client'
import { makeOnce } from './once'
import { strandPath, useStrandChange, useStrandQuery } from './strand'
import { useTopics } from './topics'

export type RegressionTable = Schemas['RegressionTable']
/** What prevalence is regressed on; pairs are two names joined by “ × ”. */
export type Regression = Omit<Schemas['RegressionQuery'], 'bends' | 'link' | 'weight'> & {
  factor: string[]
  number: string[]
  pair: string[]
  time: boolean
  bends: number
  link: string
  weight: string
}

/** What can stand in a regression, and what is suggested. */
export function useRegressionChoices() {
  const { fit } = useTopics()
  return useStrandQuery(
    'regression choices',
    fit,
    (id) => ask(client.GET('/api/strands/{strand_id}/regression/choices', { params: strandPath(id) })),
    () => !!fit.value,
  )
}

/** A regression; it is worked out in a job when it is first looked at. */
export function useRegression(of: MaybeRefOrGetter<Regression | undefined>, topics: MaybeRefOrGetter<number[]>) {
  const { fit } = useTopics()
  const query = useStrandQuery<RegressionTable>(
    'regression',
    () => [fit.value, toValue(of), toValue(topics)],
    (id) =>
      ask(
        client.GET('/api/strands/{strand_id}/regression', {
          params: { ...strandPath(id), query: { ...toValue(of), topic: toValue(topics) } },
        }),
      ),
    () => !!fit.value && !!toValue(of),
  )
  const make = useStrandChange((id, body: Regression) =>
    ask(
      client.POST('/api/strands/{strand_id}/regression', {
        params: strandPath(id),
        body: JSON.parse(JSON.stringify(body)),
      }),
    ),
  )
  const again = () => {
    const given = toValue(of)
    if (given) make.mutate(given)
  }
  makeOnce(
    () => query.data.value?.made === false && !query.isPlaceholderData.value,
    () => `${fit.value} ${JSON.stringify(toValue(of))}`,
    again,
  )
  return { query, again, error: make.error }
}

/** How one prediction came about. */
export function useRegressionWorking(
  of: MaybeRefOrGetter<Regression | undefined>,
  topic: MaybeRefOrGetter<number | undefined>,
  point: MaybeRefOrGetter<number | undefined>,
) {
  const { fit } = useTopics()
  return useStrandQuery(
    'regression working',
    () => [fit.value, toValue(of), toValue(topic), toValue(point)],
    (id) =>
      ask(
        client.GET('/api/strands/{strand_id}/regression/working', {
          params: {
            ...strandPath(id),
            query: { ...toValue(of), topic: toValue(topic) ?? 0, point: toValue(point) ?? 0 },
          },
        }),
      ),
    () => !!fit.value && !!toValue(of) && toValue(topic) !== undefined && toValue(point) !== undefined,
  )
}
