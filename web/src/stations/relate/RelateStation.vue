<script setup lang="ts">
import { defineAsyncComponent } from 'vue'

import { useStrand } from '@/api/strand'
import JobNotice from '@/frame/JobNotice.vue'
import RoomRow from '@/frame/RoomRow.vue'
import StaleNotice from '@/frame/StaleNotice.vue'
import Waiting from '@/frame/Waiting.vue'
import { useJob } from '@/frame/jobs'
import { useRooms } from '@/frame/rooms'

import TreeRoom from './TreeRoom.vue'

const VIEWS: Record<string, unknown> = {
  tree: TreeRoom,
  counts: defineAsyncComponent(() => import('./CountsRoom.vue')),
  groups: defineAsyncComponent(() => import('./GroupsRoom.vue')),
  words: defineAsyncComponent(() => import('./WordsRoom.vue')),
  near: defineAsyncComponent(() => import('./NearWordsRoom.vue')),
  alike: defineAsyncComponent(() => import('./AlikeRoom.vue')),
  map: defineAsyncComponent(() => import('./MapRoom.vue')),
}
const TITLES: Record<string, string> = {
  tree: 'What goes together',
  counts: 'How many groups of documents',
  groups: 'Documents that belong together',
  words: 'A group’s own words',
  near: 'Words that are used alike',
  alike: 'Documents that are alike',
  map: 'A map to draw round',
}
const { strand, ply } = useStrand()
const { open: room } = useRooms()
const { told } = useJob('beside')
</script>

<template>
  <div class="station relate">
    <h1>{{ TITLES[room.name] }}</h1>
    <RoomRow label="Parts of Relate" />
    <JobNotice v-if="told" :job="told" />
    <p v-if="strand && !ply('matrix')?.identity" class="notice">
      There is no matrix yet. Bring documents in at Gather; cleaning and weighing follow by themselves.
    </p>
    <template v-else-if="strand">
      <StaleNotice :steps="['corpus', 'cleaning', 'matrix']">What you make here makes these first.</StaleNotice>
      <Suspense :timeout="0">
        <component :is="VIEWS[room.name]" />
        <template #fallback><Waiting what="Opening" /></template>
      </Suspense>
    </template>
  </div>
</template>

<style scoped>
.relate {
  display: grid;
  gap: 0.8rem;
  align-content: start;
  grid-template-columns: minmax(0, 1fr);
}
.relate > p,
.relate :deep(.room p) {
  margin: 0;
}
.relate :deep(.room) {
  display: grid;
  gap: 0.9rem;
  grid-template-columns: minmax(0, 1fr);
}
</style>
