<script setup lang="ts">
import InputText from 'primevue/inputtext'
import VirtualScroller, { type VirtualScrollerLazyEvent } from 'primevue/virtualscroller'
import { computed, ref, watch } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { strandPath, useStrand } from '@/api/strand'
import { useAddress } from '@/frame/address'
import { useEvidence } from '@/frame/evidence'
import { stepRow } from '@/frame/rows'
import { count, percent } from '@/marks/format'

import { five } from './numbers'

type Row = Schemas['TermRow']
type Sort = 'display' | 'count' | 'documents' | 'idf' | 'weight'
const emit = defineEmits<{ leave: [string] }>()
const { id, strand } = useStrand()
const { get, set } = useAddress()
const { select, isSelected } = useEvidence()
const ROW = 30
const PAGE = 100
const rows = ref<(Row | undefined)[]>([])
const loading = new Set<number>()
let generation = 0
const find = computed(() => get('term'))
const sort = computed(() => get('tsort', '-weight'))
const columns: [Sort, string][] = [
  ['display', 'term'],
  ['count', 'count'],
  ['documents', 'documents'],
  ['idf', 'global'],
  ['weight', 'Σ weight'],
]

async function load(page: number) {
  if (loading.has(page)) return
  loading.add(page)
  const mine = generation
  const found = await ask(
    client.GET('/api/strands/{strand_id}/vocabulary', {
      params: {
        ...strandPath(id.value),
        query: {
          sort: sort.value,
          find: find.value,
          offset: page * PAGE,
          limit: PAGE,
        },
      },
    }),
  ).catch(() => null)
  if (mine !== generation || !found) return
  if (rows.value.length !== found.total) rows.value = Array.from({ length: found.total })
  rows.value.splice(page * PAGE, found.rows.length, ...found.rows)
}
function more(event: VirtualScrollerLazyEvent) {
  for (let page = Math.floor(event.first / PAGE); page * PAGE <= event.last; page++) load(page)
}
watch(
  () => [
    sort.value,
    find.value,
    strand.value?.wanted.clean,
    strand.value?.wanted.weigh,
    strand.value?.wanted.weighting,
  ],
  () => {
    generation++
    loading.clear()
    load(0)
  },
  { immediate: true },
)
function sortBy(key: Sort) {
  const falling = `-${key}`
  set({
    tsort: sort.value === falling ? key : key === 'display' && sort.value !== key ? key : falling,
  })
}
const arrow = (key: Sort) => (sort.value === key ? '↑' : sort.value === `-${key}` ? '↓' : '')
const value = (event: Event) => (event.target as HTMLInputElement).value
</script>

<template>
  <section>
    <div class="row spread">
      <h2>All terms</h2>
      <InputText
        :model-value="find"
        size="small"
        placeholder="Find a term"
        aria-label="Find a term"
        @input="set({ term: value($event) })" />
      <span class="soft small">select one, then <kbd>x</kbd> leaves it out</span>
    </div>
    <div class="grid head small">
      <button v-for="[key, label] in columns" :key="key" class="plain" @click="sortBy(key)">
        {{ label }} {{ arrow(key) }}
      </button>
    </div>
    <div
      @keydown.j="stepRow($event, '.term', 1)"
      @keydown.down="stepRow($event, '.term', 1)"
      @keydown.k="stepRow($event, '.term', -1)"
      @keydown.up="stepRow($event, '.term', -1)">
      <VirtualScroller :items="rows" :item-size="ROW" lazy class="scroller" @lazy-load="more">
        <template #item="{ item }">
          <button
            v-if="item"
            class="plain grid term numbers"
            :class="{ selected: isSelected({ term: item.term }) }"
            :title="`${item.display}, counted as “${item.term}”`"
            @click="select({ term: item.term })"
            @keydown.x.stop="emit('leave', item.term)">
            <span class="book cut">{{ item.display }}</span>
            <span>{{ count(item.count) }}</span>
            <span
              >{{ count(item.documents) }} <small class="soft">{{ percent(item.share, 0) }}</small></span
            >
            <span>{{ five(item.idf) }}</span>
            <span>{{ five(item.weight) }}</span>
          </button>
          <div v-else class="grid term" />
        </template>
      </VirtualScroller>
      <p v-if="!rows.length && find" class="soft">No term holds “{{ find }}”.</p>
    </div>
  </section>
</template>

<style scoped>
.grid {
  display: grid;
  grid-template-columns: minmax(8rem, 2fr) 1fr 1.5fr 0.8fr 1fr;
  gap: 0.5rem;
  align-items: center;
  width: 100%;
}
.grid > :not(:first-child) {
  text-align: right;
}
.head {
  border-bottom: 1px solid var(--soft);
  padding: 0.4rem 0.8rem 0.3rem 0.3rem;
  font-weight: 700;
}
.term {
  height: 30px;
  padding: 0 0.8rem 0 0.3rem;
  border-bottom: 1px solid var(--hairline);
}
.term:hover,
.selected {
  background: var(--woad-wash);
}
.scroller {
  height: max(22rem, calc(100vh - 24rem));
}
</style>
