import type { Station } from '@/frame/station'

export default {
  number: 8,
  name: 'track',
  label: 'Track',
  step: 'fit',
  jobs: ['tracking', 'regressing', 'parting'],
  rooms: [
    { name: 'overview', label: 'What moves' },
    { name: 'time', label: 'Over time' },
    { name: 'groups', label: 'Groups' },
    { name: 'two', label: 'Any two' },
    { name: 'own', label: 'Own words' },
    { name: 'fixed', label: 'Held fixed' },
    { name: 'apart', label: 'Models apart' },
    { name: 'streams', label: 'Streams' },
  ],
  view: () => import('./TrackStation.vue'),
} satisfies Station
