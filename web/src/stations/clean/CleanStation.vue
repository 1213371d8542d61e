<script setup lang="ts">
import { computed, defineAsyncComponent, ref, watch } from 'vue'

import { ask, client } from '@/api/client'
import { strandPath, useStrand, useWanted } from '@/api/strand'
import RoomRow from '@/frame/RoomRow.vue'
import Waiting from '@/frame/Waiting.vue'
import { useAddress } from '@/frame/address'
import { useKey } from '@/frame/keys'
import { useRooms } from '@/frame/rooms'

import FittedPasses from './FittedPasses.vue'
import PassList from './PassList.vue'
import PassesRoom from './PassesRoom.vue'
import { useGiven } from './given'
import { useSoonThenWhole } from './soon'
import { useTerms } from './terms'

const VIEWS: Record<string, unknown> = {
  passes: PassesRoom,
  words: defineAsyncComponent(() => import('./WordsRoom.vue')),
  forms: defineAsyncComponent(() => import('./FormsRoom.vue')),
  phrases: defineAsyncComponent(() => import('./PhrasesPanel.vue')),
  names: defineAsyncComponent(() => import('./NamesPanel.vue')),
  speech: defineAsyncComponent(() => import('./SpeechRoom.vue')),
}
const { strand } = useStrand()
const { wanted, undo, redo } = useWanted()
const { set } = useAddress()
const { open: room } = useRooms()
const { terms } = useTerms()
const { pass: forms } = useGiven()
const open = ref('')
const { found, whole, error } = useSoonThenWhole('survivors', (id, quick) =>
  ask(client.GET('/api/strands/{strand_id}/survivors', { params: { ...strandPath(id), query: { quick } } })),
)
/** How often a word was to be traced: the field for it takes the focus then. */
const trace = ref(0)
/** The passes stay beside every room, with what each takes; only their own room shows more of it. */
const props = computed(() => {
  if (room.value?.name === 'words') return { trace: trace.value }
  if (room.value?.name !== 'passes') return {}
  return {
    found: found.value,
    whole: whole.value,
    open: open.value,
    'onUpdate:open': (key: string) => (open.value = key),
  }
})
const passes = computed(() => wanted.value?.clean?.passes ?? [])
const edits = computed(() => wanted.value?.names)
const counts = computed(() => ({
  passes: passes.value.filter((each) => each.on).length,
  forms: forms.value?.given?.length ?? 0,
  phrases: terms.value.length,
  names: Object.keys(edits.value?.kinds ?? {}).length + Object.keys(edits.value?.merged ?? {}).length,
}))
watch(
  () => passes.value.map((each) => each.key),
  (keys) => open.value !== 'rule' && !keys.includes(open.value) && (open.value = ''),
)
useKey('w', 'trace a word', () => {
  set({ part: 'words' })
  trace.value += 1
})
</script>

<template>
  <div class="station clean">
    <p v-if="error" class="notice bad wide">{{ error.message }}</p>
    <p v-if="found?.emptied" class="notice bad wide">{{ found.emptied }}</p>
    <section class="left">
      <div class="row spread">
        <h1>Passes</h1>
        <span class="row small">
          <button class="plain" :disabled="!strand?.undo" @click="undo()">undo <kbd>u</kbd></button>
          <button class="plain" :disabled="!strand?.redo" @click="redo()">redo</button>
        </span>
      </div>
      <p class="soft small">in this order; drag, or <kbd>alt</kbd> <kbd>↑</kbd><kbd>↓</kbd></p>
      <FittedPasses v-model:open="open" />
      <PassList v-model:open="open" :survivals="found?.survivals ?? []" />
    </section>
    <div class="right">
      <RoomRow label="Rooms of Clean" :counts="counts" />
      <p v-if="found?.change" class="small change" role="status">{{ found.change }}</p>
      <div class="room">
        <Suspense :timeout="0">
          <component :is="VIEWS[room?.name ?? 'passes']" v-bind="props" />
          <template #fallback><Waiting what="Opening" /></template>
        </Suspense>
      </div>
    </div>
  </div>
</template>

<style scoped>
.clean {
  display: grid;
  grid-template-columns: 17.5rem minmax(0, 1fr);
  gap: 1.5rem;
  align-content: start;
}
.wide {
  grid-column: 1 / -1;
}
@media (max-width: 1100px) {
  .clean {
    grid-template-columns: 12rem minmax(0, 1fr);
    gap: 1rem;
  }
}
button:disabled {
  color: var(--soft);
}
.right {
  min-width: 0;
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  align-content: start;
  gap: 0.9rem;
  container-type: inline-size;
}
.room {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 1.1rem;
  overflow-x: auto;
  overflow-y: hidden;
}
.change {
  border-left: 3px solid var(--woad);
  padding-left: 0.6rem;
  margin: 0;
}
</style>
