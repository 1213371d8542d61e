<script setup lang="ts">
import Button from 'primevue/button'
import { computed, onMounted, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { ask, client, type Schemas } from '@/api/client'
import { strandPath, useStrandId, useStrandQuery } from '@/api/strand'
import { useTopics } from '@/api/topics'
import PassageText from '@/marks/PassageText.vue'
import Swatch from '@/marks/Swatch.vue'
import { count } from '@/marks/format'

import { useAddress } from './address'
import { readRequest, topicOf, useEvidence } from './evidence'
import { useRooms } from './rooms'
import { useStations } from './station'

defineEmits<{ fold: [] }>()
const id = useStrandId()
const route = useRoute()
const router = useRouter()
const stations = useStations()
const { get, set } = useAddress()
const { text, select, read } = useEvidence()
const { dye } = useTopics()
const PAGE = 8
const offset = computed(() => Number(get('evp', '0')))
const station = computed(() => stations.find((each) => each.name === route.name))
const { open: room } = useRooms()
const step = computed(() => room.value?.step ?? station.value?.step)
const opening = useStrandQuery(
  'opening',
  step,
  (strand) =>
    ask(
      client.GET('/api/strands/{strand_id}/opening/{step}', {
        params: { path: { strand_id: strand, step: (step.value ?? 'corpus') as Schemas['Ply']['step'] } },
      }),
    ),
  () => text.value === '' && !!station.value,
)
/** What is shown: what is selected, or else what is most worth a look. */
const shown = computed(() => text.value || opening.data.value?.request || '')
const request = computed(() => (shown.value ? readRequest(shown.value) : null))
const topic = computed(() => topicOf(request.value))
const evidence = useStrandQuery(
  'evidence',
  () => [shown.value, offset.value],
  (strand) =>
    ask(
      client.GET('/api/strands/{strand_id}/evidence', {
        params: {
          ...strandPath(strand),
          query: { ...request.value, offset: offset.value, limit: PAGE },
        },
      }),
    ),
  () => shown.value !== '',
)
const found = computed(() => (evidence.isPlaceholderData.value ? undefined : evidence.data.value))

const dyeOf = computed(() => (topic.value === undefined ? undefined : dye(topic.value)))
const csv = computed(() => `/api/strands/${id.value}/evidence.csv?${shown.value}`)
const width = ref(340)
onMounted(() => document.documentElement.style.setProperty('--evidence', `${width.value}px`))
function resize(event: PointerEvent) {
  const handle = event.target as HTMLElement
  handle.setPointerCapture(event.pointerId)
  handle.onpointermove = (move) => setWidth(window.innerWidth - move.clientX)
  handle.onpointerup = () => (handle.onpointermove = null)
}
function setWidth(wanted: number) {
  width.value = Math.min(620, Math.max(260, wanted))
  document.documentElement.style.setProperty('--evidence', `${width.value}px`)
}
/** Reading on in the evidence goes by what is selected. */
async function open(document: number, place: number) {
  if (!text.value && request.value) await select(request.value)
  read(document, place)
}
function asFilter() {
  const query = { tab: 'documents', set: shown.value, ev: shown.value }
  router.push({ path: `/strand/${id.value}/gather`, query })
}
</script>

<template>
  <aside class="evidence" aria-label="Evidence">
    <div
      class="handle"
      role="separator"
      tabindex="0"
      aria-label="Width of the evidence"
      :aria-valuenow="width"
      aria-orientation="vertical"
      @pointerdown="resize"
      @keydown.left="setWidth(width + 20)"
      @keydown.right="setWidth(width - 20)" />
    <div class="row spread">
      <h2>Evidence</h2>
      <button class="plain soft" @click="$emit('fold')">fold <kbd>e</kbd></button>
    </div>
    <p v-if="!request" class="soft">Select any term, topic, bar, point or cell: the documents behind it appear here.</p>
    <template v-else>
      <p v-if="!text" class="soft small">
        Select any term, topic, bar, point or cell for its documents. Until then: {{ opening.data.value?.why }}.
      </p>
      <div class="row title">
        <Swatch v-if="dyeOf !== undefined" :dye="dyeOf" />
        <h3>{{ found?.title ?? '…' }}</h3>
      </div>
      <p class="soft small">
        <template v-if="found">
          {{ found.where.map((each) => `${each} · `).join('') }}{{ count(found.total) }} of
          {{ count(found.corpus) }} documents; {{ found.why }}</template
        >
        <template v-else-if="evidence.error.value">{{ evidence.error.value.message }}</template>
        <template v-else>Looking…</template>
      </p>
      <p v-if="found && !found.total" class="soft">No document belongs to this selection.</p>
      <article v-for="(piece, at) in found?.pieces" :key="piece.document">
        <button class="plain open" @click="open(piece.document, offset + at)">
          <span class="row spread">
            <b class="cut">{{ piece.name }}</b>
            <span class="soft numbers">{{ piece.score }}</span>
          </span>
          <span class="soft small cut block">{{ piece.brief }}</span>
        </button>
        <PassageText :pieces="piece.passage" :dye="dyeOf" />
        <p class="soft small why">{{ piece.reason }}</p>
      </article>
      <div v-if="found && found.total" class="row wrap foot">
        <Button
          v-if="offset"
          label="Back"
          size="small"
          severity="secondary"
          @click="set({ evp: String(Math.max(0, offset - PAGE)) })" />
        <Button
          v-if="offset + PAGE < found.total"
          label="More"
          size="small"
          severity="secondary"
          @click="set({ evp: String(offset + PAGE) })" />
        <Button label="As filter" size="small" severity="secondary" @click="asFilter" />
        <a :href="csv" download>Save as CSV</a>
      </div>
    </template>
  </aside>
</template>

<style scoped>
.evidence {
  grid-area: evidence;
  position: relative;
  background: var(--raised);
  border-left: 1px solid var(--hairline);
  padding: 1rem 1rem 2rem;
  overflow: auto;
}
@media (max-width: 900px) {
  .evidence {
    border-left: 0;
    border-top: 1px solid var(--hairline);
  }
  .handle {
    display: none;
  }
}
.handle {
  position: absolute;
  left: 0;
  top: 0;
  bottom: 0;
  width: 6px;
  cursor: col-resize;
}
.handle:hover {
  background: var(--woad-wash);
}
.title {
  margin-top: 0.8rem;
}
article {
  border-top: 1px solid var(--hairline);
  padding: 0.7rem 0;
}
.open {
  display: block;
  width: 100%;
  margin-bottom: 0.3rem;
}
.open:hover b {
  color: var(--woad);
  text-decoration: underline;
}
.block {
  display: block;
}
.why {
  margin: 0.3rem 0 0;
}
.foot {
  border-top: 1px solid var(--hairline);
  padding-top: 0.8rem;
}
</style>
