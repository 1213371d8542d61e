import type { Station } from '@/frame/station'

export default {
  number: 9,
  name: 'share',
  label: 'Share',
  step: 'fit',
  view: () => import('./ShareStation.vue'),
} satisfies Station
