import type { Station } from '@/frame/station'

export default {
  number: 3,
  name: 'weigh',
  label: 'Weigh',
  step: 'matrix',
  makes: true,
  jobs: ['build', 'gather'],
  view: () => import('./WeighStation.vue'),
} satisfies Station
