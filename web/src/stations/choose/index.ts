import type { Station } from '@/frame/station'

export default {
  number: 6,
  name: 'choose',
  label: 'Choose',
  step: 'fit',
  jobs: ['sweep', 'chosen', 'measure'],
  alone: true,
  rooms: [
    { name: 'counts', label: 'Counts' },
    { name: 'between', label: 'Between counts' },
    { name: 'beside', label: 'Side by side' },
    { name: 'working', label: 'Workings' },
  ],
  view: () => import('./ChooseStation.vue'),
} satisfies Station
