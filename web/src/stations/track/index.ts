import type { Station } from '@/frame/station'

export default {
  number: 8,
  name: 'track',
  label: 'Track',
  step: 'fit',
  view: () => import('./TrackStation.vue'),
} satisfies Station
