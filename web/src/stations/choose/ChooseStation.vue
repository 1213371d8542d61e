<script setup lang="ts">
import { computed, defineAsyncComponent } from 'vue'

import { useStrand } from '@/api/strand'
import RoomRow from '@/frame/RoomRow.vue'
import StaleNotice from '@/frame/StaleNotice.vue'
import Waiting from '@/frame/Waiting.vue'
import { useRooms } from '@/frame/rooms'
import { counted } from '@/marks/format'

import ChoiceMade from './ChoiceMade.vue'
import CountsRoom from './CountsRoom.vue'
import { useFits } from './choose'

const VIEWS: Record<string, unknown> = {
  counts: CountsRoom,
  between: defineAsyncComponent(() => import('./BetweenRoom.vue')),
  beside: defineAsyncComponent(() => import('./BesideRoom.vue')),
  working: defineAsyncComponent(() => import('./WorkingRoom.vue')),
}
const { ply } = useStrand()
const { open: room } = useRooms()
const { found } = useFits()
const grid = computed(() => {
  const fits = found.value?.fits ?? []
  const of = (name: 'topics' | 'seed') => new Set(fits.map((fit) => fit.settings[name])).size
  return fits.length ? `${counted(of('topics'), 'count')}, ${counted(of('seed'), 'seed')}` : ''
})
</script>

<template>
  <div class="station choose">
    <div class="row wrap spread">
      <h1>How many topics?</h1>
      <span class="soft small">{{ grid }}</span>
    </div>
    <StaleNotice :steps="['corpus', 'cleaning', 'matrix']">
      A sweep rebuilds what it needs first. These fits are of the earlier matrix.
    </StaleNotice>
    <p v-if="!ply('matrix')?.identity" class="soft">
      There is no matrix yet. Bring documents in at Gather; cleaning and weighing follow by themselves.
    </p>
    <template v-else>
      <RoomRow label="Parts of Choose" />
      <ChoiceMade />
      <Suspense :timeout="0">
        <component :is="VIEWS[room.name]" />
        <template #fallback><Waiting what="Opening" /></template>
      </Suspense>
    </template>
  </div>
</template>

<style scoped>
.choose {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 0.8rem;
  align-content: start;
}
</style>
