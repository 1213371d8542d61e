import { useQueryClient } from '@tanstack/vue-query'
import { toValue, type MaybeRefOrGetter } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { oneAtATime } from '@/api/newest'
import { strandPath, useStrandChange, useStrandId, useStrandQuery } from '@/api/strand'
import { say } from '@/frame/notices'

export type Check = Schemas['TopicCheckSeen']

export const useBeginCheck = () =>
  useStrandChange((id, body: Partial<Schemas['NewCheck']> & { kind: string }) =>
    ask(client.POST('/api/strands/{strand_id}/checks', { params: strandPath(id), body: body as Schemas['NewCheck'] })),
  )

const path = (id: number, check: number) => ({ path: { strand_id: id, check_id: check } })

export const useForgetCheck = () =>
  useStrandChange((id, check: number) =>
    ask(client.DELETE('/api/strands/{strand_id}/checks/{check_id}', { params: path(id, check) })),
  )

/**
 * Keep what somebody answers: one request at a time, of all answers so far, so that quick answers neither queue up nor
 * overtake each other; one that is under way when the page is left still arrives.
 */
export function useAnswers() {
  const id = useStrandId()
  const queries = useQueryClient()
  let latest = { check: 0, rater: '', answers: [] as (number | null)[] }
  const send = oneAtATime(async () => {
    const { check, ...body } = latest
    const params = path(id.value, check)
    await ask(
      client.PUT('/api/strands/{strand_id}/checks/{check_id}/answers', { params, body, keepalive: true }),
    ).catch((fault: Error) => say(fault.message, 'bad'))
  })
  return (given: typeof latest) => {
    latest = given
    send().then(() => queries.invalidateQueries({ queryKey: ['strand', id.value, 'checks'] }))
  }
}

export const useAnswersFile = () =>
  useStrandChange((id, { check, text }: { check: number; text: string }) =>
    ask(
      client.POST('/api/strands/{strand_id}/checks/{check_id}/answers-file', {
        params: path(id, check),
        body: { text },
      }),
    ),
  )

/** The questions of a check, with what somebody has answered of them. */
export const useQuestions = (check: MaybeRefOrGetter<number | undefined>, rater: MaybeRefOrGetter<string>) =>
  useStrandQuery(
    'questions',
    () => [toValue(check), toValue(rater)],
    (id) =>
      ask(
        client.GET('/api/strands/{strand_id}/checks/{check_id}/questions', {
          params: { path: { strand_id: id, check_id: toValue(check) ?? 0 }, query: { rater: toValue(rater) } },
        }),
      ),
    () => toValue(check) !== undefined && !!toValue(rater),
  )
