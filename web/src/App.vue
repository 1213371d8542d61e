<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { computed, onMounted, provide, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import type { Schemas } from '@/api/client'
import { useRebuild, useStrand, useWanted } from '@/api/strand'
import EvidencePanel from '@/frame/EvidencePanel.vue'
import GoneNotice from '@/frame/GoneNotice.vue'
import HintLine from '@/frame/HintLine.vue'
import KeysHelp from '@/frame/KeysHelp.vue'
import LeavingTray from '@/frame/LeavingTray.vue'
import NoticeList from '@/frame/NoticeList.vue'
import ReaderSheet from '@/frame/ReaderSheet.vue'
import StrandBar from '@/frame/StrandBar.vue'
import ThreadRail from '@/frame/ThreadRail.vue'
import WorkTray from '@/frame/WorkTray.vue'
import { useEvidence } from '@/frame/evidence'
import { followJobs } from '@/frame/jobs'
import { useKey } from '@/frame/keys'
import { useAddress } from '@/frame/address'
import DyeDefs from '@/marks/DyeDefs.vue'
import { SELECTION } from '@/marks/selection'
import { STATIONS } from '@/stations'

const route = useRoute()
const queries = useQueryClient()
const router = useRouter()
const { get, set } = useAddress()
const { id, strand, error, made } = useStrand()
const rebuild = useRebuild()
const { undo, redo } = useWanted()
provide(SELECTION, useEvidence())
const trayOpen = ref(false)
const evidenceOpen = computed(() => get('fold') !== '1')
const onStrand = computed(() => id.value > 0)
const dyes = computed(() => Math.max(60, (made.value.fit?.topics ?? 0) * 2))

followJobs(queries)
onMounted(() => (document.title = 'Skeinwork'))

for (const station of STATIONS)
  useKey(String(station.number), `go to ${station.label}`, () => {
    const newest = queries.getQueryData<Schemas['SkeinEntry'][]>(['skeins'])?.find((each) => !each.deleted)
    const strand = onStrand.value ? id.value : newest?.strands[0]
    if (strand) router.push({ path: `/strand/${strand}/${station.name}` })
  })
useKey('e', 'fold or unfold the evidence', () => set({ fold: evidenceOpen.value ? '1' : '' }))
useKey('u', 'undo the last change of settings', () => onStrand.value && undo())
useKey('U', 'redo it', () => onStrand.value && redo())
useKey('r', 'rebuild what is out of date', () => onStrand.value && rebuild.mutate())
useKey('/', 'find documents', () => {
  if (onStrand.value) router.push({ path: `/strand/${id.value}/gather`, query: { focus: 'find' } })
})
</script>

<template>
  <DyeDefs :count="dyes" />
  <a class="hidden-text" href="#workspace">Skip to the workspace</a>
  <div class="frame" :class="{ folded: !evidenceOpen || !onStrand }">
    <ThreadRail :strand="strand" />
    <StrandBar :strand="strand" @work="trayOpen = !trayOpen" />
    <main id="workspace" tabindex="-1">
      <div v-if="onStrand && error && !strand" class="station">
        <h1>Nothing here</h1>
        <p class="notice bad">{{ error.message }}</p>
        <RouterLink to="/">All skeins on this machine</RouterLink>
      </div>
      <HintLine v-if="onStrand" />
      <RouterView v-if="!(onStrand && error && !strand)" v-slot="{ Component }">
        <component :is="Component" :key="String(route.params.strand ?? '')" />
      </RouterView>
      <LeavingTray v-if="onStrand" />
    </main>
    <EvidencePanel v-if="onStrand && evidenceOpen" @fold="set({ fold: '1' })" />
    <button v-else-if="onStrand" class="plain unfold" aria-label="Unfold the evidence" @click="set({ fold: '' })">
      Evidence <kbd>e</kbd>
    </button>
  </div>
  <WorkTray v-if="trayOpen" @close="trayOpen = false" />
  <ReaderSheet v-if="get('read') !== ''" />
  <KeysHelp />
  <NoticeList />
  <GoneNotice />
</template>

<style scoped>
.frame {
  display: grid;
  height: 100vh;
  grid-template: 44px 1fr / 84px minmax(0, 1fr) var(--evidence, 340px);
  grid-template-areas: 'rail bar bar' 'rail work evidence';
}
.frame.folded {
  grid-template-columns: 84px minmax(0, 1fr) 0;
}
main {
  grid-area: work;
  display: flex;
  flex-direction: column;
  min-width: 0;
  overflow: hidden;
  outline: none;
}
/* A narrow window, or a wide one at twice its size: one column that scrolls as a page. */
@media (max-width: 900px) {
  .frame,
  .frame.folded {
    height: auto;
    min-height: 100vh;
    grid-template: 44px auto 1fr / 84px minmax(0, 1fr);
    grid-template-areas: 'rail bar' 'rail work' 'rail evidence';
  }
  main {
    overflow: visible;
  }
}
.unfold {
  position: fixed;
  right: 0;
  top: 50%;
  writing-mode: vertical-rl;
  padding: 0.6rem 0.3rem;
  background: var(--raised);
  border: 1px solid var(--hairline);
  border-right: 0;
  border-radius: 6px 0 0 6px;
  font-size: 0.86rem;
}
</style>
