import type { Station } from '@/frame/station'

export default {
  number: 4,
  name: 'relate',
  label: 'Relate',
  step: 'tree',
  jobs: ['beside'],
  rooms: [
    { name: 'tree', label: 'Tree' },
    { name: 'counts', label: 'How many groups', step: 'group_counts' },
    { name: 'groups', label: 'Groups', step: 'groups' },
    { name: 'words', label: 'Words by group', step: 'group_words' },
  ],
  view: () => import('./RelateStation.vue'),
} satisfies Station
