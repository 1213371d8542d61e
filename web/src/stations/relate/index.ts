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
    { name: 'near', label: 'Near words', step: 'word_vectors' },
    { name: 'alike', label: 'Alike documents', step: 'document_vectors' },
    { name: 'map', label: 'Map', step: 'document_map' },
  ],
  view: () => import('./RelateStation.vue'),
} satisfies Station
