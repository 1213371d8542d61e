<script setup lang="ts">
import { computed, defineAsyncComponent, watch } from 'vue'

import { useStrand, useWanted } from '@/api/strand'
import RoomRow from '@/frame/RoomRow.vue'
import Waiting from '@/frame/Waiting.vue'
import { useAddress } from '@/frame/address'
import { useRooms } from '@/frame/rooms'
import { count, counted } from '@/marks/format'

import MakeRoom from './MakeRoom.vue'
import { useFit, useMethods } from './fit'

const VIEWS: Record<string, unknown> = {
  make: MakeRoom,
  topics: defineAsyncComponent(() => import('./TopicsRoom.vue')),
  vectors: defineAsyncComponent(() => import('./VectorRoom.vue')),
  compare: defineAsyncComponent(() => import('./CompareRoom.vue')),
  new: defineAsyncComponent(() => import('./NewTextRoom.vue')),
}
const { strand, ply, made } = useStrand()
const { wanted } = useWanted()
const { job, fit, found } = useFit()
const { get } = useAddress()
const { open: room, go } = useRooms()
const methods = useMethods()
const held = computed(() => made.value.matrix?.held_out ?? 0)
const usable = computed(() => (made.value.matrix?.documents ?? 0) - (made.value.matrix?.emptied ?? 0))
/** N-grams lie over their words. */
const read = computed(() => count(made.value.matrix?.words || (made.value.matrix?.tokens ?? 0)))
const about = computed(
  () => methods.data.value?.find((each) => each.method === (found.value?.settings ?? wanted.value?.fit)?.method)?.about,
)
/** Without a fit, or while one is made, there is only one room to be in. */
watch(
  () => !!strand.value && !get('part') && (!fit.value || !!job.value),
  (making) => making && go('make'),
  { immediate: true },
)
</script>

<template>
  <div class="station fit">
    <div class="row wrap spread">
      <h1>
        {{ job ? 'Fitting' : found ? `${found.said.name}, ${found.said.size}` : 'Fit a topic model' }}
      </h1>
      <span class="soft small"
        >{{ about }} on {{ read }} words of {{ counted(usable, 'document')
        }}{{ held ? `, ${count(held)} of them held out at Weigh` : '' }}</span
      >
    </div>
    <p v-if="!ply('matrix')?.identity" class="notice">
      There is no matrix yet. Bring documents in at Gather; cleaning and weighing follow by themselves.
    </p>
    <template v-else>
      <RoomRow label="Parts of Fit" />
      <Suspense :timeout="0">
        <component :is="VIEWS[room.name]" />
        <template #fallback><Waiting what="Opening" /></template>
      </Suspense>
    </template>
  </div>
</template>

<style scoped>
.fit {
  display: grid;
  gap: 0.9rem;
  align-content: start;
  grid-template-columns: minmax(0, 1fr);
}
</style>
