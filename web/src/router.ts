import { createRouter, createWebHistory } from 'vue-router'

export interface Station {
  name: string
  label: string
  number: number
}

/** The stations that are built; a station keeps its number while another is missing. */
export const STATIONS: Station[] = [
  { name: 'gather', label: 'Gather', number: 1 },
  { name: 'clean', label: 'Clean', number: 2 },
  { name: 'weigh', label: 'Weigh', number: 3 },
  { name: 'fit', label: 'Fit', number: 5 },
  { name: 'choose', label: 'Choose', number: 6 },
  { name: 'label', label: 'Label', number: 7 },
  { name: 'track', label: 'Track', number: 8 },
  { name: 'share', label: 'Share', number: 9 },
]

const views = {
  gather: () => import('./stations/gather/GatherStation.vue'),
  clean: () => import('./stations/clean/CleanStation.vue'),
  weigh: () => import('./stations/weigh/WeighStation.vue'),
  fit: () => import('./stations/fit/FitStation.vue'),
  choose: () => import('./stations/choose/ChooseStation.vue'),
  label: () => import('./stations/label/LabelStation.vue'),
  track: () => import('./stations/track/TrackStation.vue'),
  share: () => import('./stations/share/ShareStation.vue'),
}

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'start', component: () => import('./stations/gather/StartScreen.vue') },
    ...Object.entries(views).map(([name, component]) => ({
      path: `/strand/:strand(\\d+)/${name}`,
      name,
      component,
    })),
    { path: '/strand/:strand(\\d+)', redirect: (to) => `/strand/${to.params.strand}/gather` },
    { path: '/:rest(.*)*', redirect: '/' },
  ],
})
