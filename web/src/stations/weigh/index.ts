import type { Station } from '@/frame/station'

export default {
  number: 3,
  name: 'weigh',
  label: 'Weigh',
  step: 'matrix',
  makes: true,
  jobs: ['build', 'gather'],
  rooms: [
    { name: 'prune', label: 'Prune' },
    { name: 'weights', label: 'Weights' },
    { name: 'grid', label: 'Matrix' },
    { name: 'terms', label: 'Terms' },
    { name: 'new', label: 'New text' },
    { name: 'files', label: 'Split and files' },
  ],
  view: () => import('./WeighStation.vue'),
} satisfies Station
