import type { Job } from '@/api/client'

/** What the shared stream tells the tabs: the list of jobs, that the server is there, or that the connection broke. */
export type Heard = { jobs: Job[] } | { beat: true } | { broken: true }
export const CHANNEL = 'skeinwork-jobs'
/** Without a sign of life for so long the server is taken to be gone, in milliseconds. */
export const PATIENCE = 2500
