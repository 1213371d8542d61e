import type { Station } from '@/frame/station'

export default {
  number: 2,
  name: 'clean',
  label: 'Clean',
  step: 'cleaning',
  makes: true,
  jobs: ['build', 'gather'],
  view: () => import('./CleanStation.vue'),
} satisfies Station
