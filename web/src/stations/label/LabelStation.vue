<script setup lang="ts">
import { computed, defineAsyncComponent, watch } from 'vue'

import { useStrand } from '@/api/strand'
import { useTopics } from '@/api/topics'
import RoomRow from '@/frame/RoomRow.vue'
import StaleNotice from '@/frame/StaleNotice.vue'
import Waiting from '@/frame/Waiting.vue'
import { useAddress } from '@/frame/address'
import { useEvidence } from '@/frame/evidence'
import { useRooms } from '@/frame/rooms'

import ReadRoom from './ReadRoom.vue'

const VIEWS: Record<string, unknown> = {
  read: ReadRoom,
  sort: defineAsyncComponent(() => import('./SortRoom.vue')),
  together: defineAsyncComponent(() => import('./TogetherRoom.vue')),
  check: defineAsyncComponent(() => import('./CheckRoom.vue')),
  sheet: defineAsyncComponent(() => import('./SheetRoom.vue')),
}
const { ply } = useStrand()
const { topics, query, fit } = useTopics()
const { open: room } = useRooms()
const { select } = useEvidence()
const { get } = useAddress()
const doubt = computed(() => ply('fit')?.doubt)
watch(
  () => topics.value.length,
  (count) => count && get('ev') === '' && select({ topic: 0 }),
  { immediate: true },
)
</script>

<template>
  <div class="station label">
    <p v-if="query.error.value" class="notice bad">{{ query.error.value.message }}</p>
    <p v-else-if="!fit">
      There are no topics yet. <RouterLink to="choose">Choose a count</RouterLink> or
      <RouterLink to="fit">fit one model</RouterLink> first.
    </p>
    <template v-else>
      <StaleNotice :steps="['fit']" />
      <RoomRow label="Parts of Label" />
      <p v-if="doubt" class="notice">
        The trace of this fit: {{ doubt }}. Its topics may still change; ask for more iterations at
        <RouterLink to="fit">Fit</RouterLink> before you label them.
      </p>
      <p v-for="said in query.data.value?.notes" :key="said" class="notice">{{ said }}</p>
      <Waiting v-if="query.isPending.value" what="Reading the topics" />
      <Suspense v-if="topics.length" :timeout="0">
        <component :is="VIEWS[room.name]" />
        <template #fallback><Waiting what="Opening" /></template>
      </Suspense>
    </template>
  </div>
</template>

<style scoped>
.label {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 0.8rem;
  align-content: start;
}
</style>
