import type { Station } from '@/frame/station'

export default {
  number: 1,
  name: 'gather',
  label: 'Gather',
  step: 'corpus',
  makes: true,
  jobs: ['gather'],
  view: () => import('./GatherStation.vue'),
} satisfies Station
