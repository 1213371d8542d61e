<script setup lang="ts">
import VirtualScroller, { type VirtualScrollerLazyEvent } from 'primevue/virtualscroller'
import { computed, ref, watch } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { strandPath, useStrand } from '@/api/strand'
import { useAddress } from '@/frame/address'
import { useEvidence } from '@/frame/evidence'
import { count } from '@/marks/format'

import { useDocumentQuery } from './query'
import FindBar from './FindBar.vue'
import InContext from './InContext.vue'

type Row = Schemas['DocumentRow']
defineProps<{ fields: Schemas['FieldSummary'][]; languages: Schemas['Bar'][] }>()
const { id, ply } = useStrand()
const { get } = useAddress()
const { read } = useEvidence()
const { query: chosen } = useDocumentQuery()
const ROW = 66
const PAGE = 100

const rows = ref<(Row | undefined)[]>([])
const total = ref<number>()
const flagged = ref<string | null>()
const fault = ref('')
const loading = new Set<number>()
let generation = 0

const query = computed(() => ({ ...chosen.value, sort: get('sort') }))
const corpus = computed(() => ply('corpus')?.identity)

async function load(page: number) {
  if (loading.has(page)) return
  loading.add(page)
  const mine = generation
  try {
    const found = await ask(
      client.GET('/api/strands/{strand_id}/documents', {
        params: {
          ...strandPath(id.value),
          query: { ...query.value, offset: page * PAGE, limit: PAGE },
        },
      }),
    )
    if (mine !== generation) return
    if (total.value !== found.total) rows.value = Array.from({ length: found.total })
    total.value = found.total
    flagged.value = found.flagged
    rows.value.splice(page * PAGE, found.rows.length, ...found.rows)
    fault.value = ''
  } catch (problem) {
    if (mine === generation) fault.value = (problem as Error).message
    loading.delete(page)
  }
}
function more(event: VirtualScrollerLazyEvent) {
  for (let page = Math.floor(event.first / PAGE); page * PAGE <= event.last; page++) load(page)
}
watch(
  [query, id, corpus],
  () => {
    generation++
    loading.clear()
    load(0)
  },
  { immediate: true },
)
</script>

<template>
  <div class="documents">
    <FindBar :fields="fields" :languages="languages" :total="total" :flagged="flagged" />
    <InContext v-if="get('view') === 'context'" />
    <p v-else-if="fault" class="notice bad">{{ fault }}</p>
    <p v-else-if="total === 0" class="soft">No document matches. Remove a filter or look for fewer words.</p>
    <VirtualScroller v-else :items="rows" :item-size="ROW" lazy class="scroller" @lazy-load="more">
      <template #item="{ item }">
        <button class="plain entry" :disabled="!item" @click="item && read(item.document)">
          <template v-if="item">
            <span class="row">
              <b>{{ item.name }}</b>
              <span class="soft small cut grow">{{ item.brief }}</span>
              <span class="soft small numbers">{{ count(item.words) }} words</span>
            </span>
            <span class="book cut beginning">{{ item.beginning || '(no text)' }}</span>
          </template>
        </button>
      </template>
    </VirtualScroller>
  </div>
</template>

<style scoped>
.documents {
  display: grid;
  gap: 0.7rem;
  margin-top: 0.6rem;
}
.scroller {
  height: calc(100vh - 15rem);
  border-top: 1px solid var(--hairline);
}
.entry {
  display: block;
  width: 100%;
  height: 66px;
  padding: 0.5rem 0.4rem;
  border-bottom: 1px solid var(--hairline);
}
.entry:hover {
  background: var(--woad-wash);
}
.beginning {
  display: block;
  margin-top: 0.15rem;
}
</style>
