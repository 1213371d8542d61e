import type { paths } from './schema'

/** What the evidence is asked for, as the server takes it. */
export type EvidenceRequest = Omit<
  NonNullable<paths['/api/strands/{strand_id}/evidence']['get']['parameters']['query']>,
  'offset' | 'limit'
>
