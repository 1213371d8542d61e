import type { Station } from '@/frame/station'

export default {
  number: 6,
  name: 'choose',
  label: 'Choose',
  step: 'fit',
  jobs: ['sweep'],
  alone: true,
  view: () => import('./ChooseStation.vue'),
} satisfies Station
