import type { Station } from '@/frame/station'

export default {
  number: 2,
  name: 'clean',
  label: 'Clean',
  step: 'cleaning',
  makes: true,
  jobs: ['build', 'gather'],
  rooms: [
    { name: 'passes', label: 'Passes' },
    { name: 'words', label: 'Words' },
    { name: 'forms', label: 'Forms' },
    { name: 'phrases', label: 'Phrases' },
    { name: 'names', label: 'Names' },
    { name: 'speech', label: 'Parts of speech' },
  ],
  view: () => import('./CleanStation.vue'),
} satisfies Station
