<script setup lang="ts">
import { defineAsyncComponent } from 'vue'

import { useTopics } from '@/api/topics'
import RoomRow from '@/frame/RoomRow.vue'
import Waiting from '@/frame/Waiting.vue'
import { useRooms } from '@/frame/rooms'

import OverviewRoom from './OverviewRoom.vue'

const VIEWS: Record<string, unknown> = {
  overview: OverviewRoom,
  time: defineAsyncComponent(() => import('./TimeRoom.vue')),
  groups: defineAsyncComponent(() => import('./GroupsRoom.vue')),
  two: defineAsyncComponent(() => import('./ContrastRoom.vue')),
  own: defineAsyncComponent(() => import('./OwnWordsRoom.vue')),
  streams: defineAsyncComponent(() => import('./StreamsRoom.vue')),
  apart: defineAsyncComponent(() => import('./ApartRoom.vue')),
  holds: defineAsyncComponent(() => import('./HoldsRoom.vue')),
  fixed: defineAsyncComponent(() => import('./FixedRoom.vue')),
}
const { fit } = useTopics()
const { open: room } = useRooms()
</script>

<template>
  <div class="station track">
    <p v-if="!fit">There are no topics yet. <RouterLink to="choose">Choose a count</RouterLink> first.</p>
    <template v-else>
      <RoomRow label="Parts of Track" />
      <Suspense :timeout="0">
        <component :is="VIEWS[room.name]" />
        <template #fallback><Waiting what="Opening" /></template>
      </Suspense>
    </template>
  </div>
</template>

<style scoped>
.track {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 0.6rem;
  grid-auto-rows: max-content;
  align-content: start;
}
</style>
