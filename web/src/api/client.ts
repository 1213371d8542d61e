import createClient from 'openapi-fetch'

import type { components, paths } from './schema'

export type Schemas = components['schemas']
export type Strand = Schemas['StrandRecord']
export type Job = Schemas['JobRecord']
export type Topic = Schemas['Topic']
export type Wanted = Schemas['Wanted']
export type Piece = Schemas['Segment']

export const client = createClient<paths>({
  baseUrl: '/',
  querySerializer: { array: { style: 'form', explode: true } },
})

/** What went wrong, in the server's sentence. */
export class Problem extends Error {
  constructor(
    message: string,
    readonly status: number,
  ) {
    super(message)
  }
}

/** The answer's data; a refused request becomes a `Problem`. */
export async function ask<T>(request: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let answer
  try {
    answer = await request
  } catch {
    throw new Problem('The server does not answer. Start it again; nothing is lost.', 0)
  }
  if (answer.response.ok) return answer.data as T
  const detail = (answer.error as { detail?: string } | undefined)?.detail
  throw new Problem(detail ?? `The request failed (${answer.response.status}).`, answer.response.status)
}
