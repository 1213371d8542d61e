import type { Station } from '@/frame/station'

export default {
  number: 7,
  name: 'label',
  label: 'Label',
  step: 'fit',
  view: () => import('./LabelStation.vue'),
} satisfies Station
