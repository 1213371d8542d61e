import type { Station } from '@/frame/station'

export default {
  number: 5,
  name: 'fit',
  label: 'Fit',
  step: 'fit',
  makes: true,
  jobs: ['fit', 'build'],
  rooms: [
    { name: 'topics', label: 'Topics' },
    { name: 'make', label: 'Make and trace' },
    { name: 'vectors', label: 'By vector' },
    { name: 'compare', label: 'Compare' },
    { name: 'new', label: 'New text' },
  ],
  view: () => import('./FitStation.vue'),
} satisfies Station
