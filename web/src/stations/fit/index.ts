import type { Station } from '@/frame/station'

export default {
  number: 5,
  name: 'fit',
  label: 'Fit',
  step: 'fit',
  makes: true,
  jobs: ['fit', 'build'],
  view: () => import('./FitStation.vue'),
} satisfies Station
