import '@fontsource-variable/bricolage-grotesque/wght.css'
import '@fontsource-variable/atkinson-hyperlegible-next/wght.css'
import '@fontsource-variable/literata/wght.css'
import './theme/tokens.css'
import './theme/base.css'

import { MutationCache, QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import PrimeVue from 'primevue/config'
import { createApp } from 'vue'

import App from './App.vue'
import { listenToKeys } from './frame/keys'
import { say } from './frame/notices'
import { STATIONS as STATION_LIST } from './frame/station'
import { router } from './router'
import { STATIONS } from './stations'
import { applyTheme } from './theme/mode'
import { preset } from './theme/preset'

const nonce = document.querySelector<HTMLMetaElement>('meta[name="style-nonce"]')?.content
const queries = new QueryClient({
  mutationCache: new MutationCache({ onError: (fault) => say(fault.message, 'bad') }),
  defaultOptions: { queries: { staleTime: 30_000, retry: 0, refetchOnWindowFocus: false } },
})

applyTheme()
listenToKeys()
createApp(App)
  .use(router)
  .provide(STATION_LIST, STATIONS)
  .use(VueQueryPlugin, { queryClient: queries })
  .use(PrimeVue, { theme: { preset, options: { darkModeSelector: '.dark' } }, csp: { nonce } })
  .mount('#app')
