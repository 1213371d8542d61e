import type { Station } from '@/frame/station'

export default {
  number: 7,
  name: 'label',
  label: 'Label',
  step: 'fit',
  jobs: ['reading'],
  rooms: [
    { name: 'read', label: 'Read' },
    { name: 'sort', label: 'Sort and merge' },
    { name: 'together', label: 'Together' },
    { name: 'check', label: 'Check by people' },
    { name: 'sheet', label: 'Sheet' },
  ],
  view: () => import('./LabelStation.vue'),
} satisfies Station
