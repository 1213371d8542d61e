import type { Station } from '@/frame/station'

export default {
  number: 8,
  name: 'track',
  label: 'Track',
  step: 'fit',
  jobs: ['tracking', 'regressing', 'parting', 'trials'],
  rooms: [
    { name: 'overview', label: 'What moves' },
    { name: 'time', label: 'Over time' },
    { name: 'groups', label: 'Groups' },
    { name: 'two', label: 'Any two' },
    { name: 'own', label: 'Own words' },
    { name: 'fixed', label: 'Held fixed' },
    { name: 'apart', label: 'Models apart' },
    { name: 'streams', label: 'Streams' },
    { name: 'holds', label: 'Does it hold?' },
  ],
  view: () => import('./TrackStation.vue'),
} satisfies Station
