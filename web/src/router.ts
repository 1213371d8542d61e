import { createRouter, createWebHistory } from 'vue-router'

import { STATIONS } from './stations'

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'start', component: () => import('./stations/gather/StartScreen.vue') },
    ...STATIONS.map(({ name, view }) => ({ path: `/strand/:strand(\\d+)/${name}`, name, component: view })),
    { path: '/strand/:strand(\\d+)', redirect: (to) => `/strand/${to.params.strand}/gather` },
    { path: '/:rest(.*)*', redirect: '/' },
  ],
})
