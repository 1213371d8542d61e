<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import VirtualScroller, { type VirtualScrollerLazyEvent } from 'primevue/virtualscroller'
import { computed, nextTick, onMounted, ref, watch } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { strandPath, useStrandId } from '@/api/strand'
import { useAddress, useSelection } from '@/frame/selection'
import { count, counted } from '@/marks/format'

type Row = Schemas['DocumentRow']
const props = defineProps<{ fields: Schemas['FieldSummary'][] }>()
const id = useStrandId()
const { get, list, set } = useAddress()
const { read } = useSelection()
const ROW = 66
const PAGE = 100

const filters = computed(() => list('where'))
const sort = computed(() => get('sort'))
const box = ref<HTMLElement>()
const rows = ref<(Row | undefined)[]>([])
const total = ref<number>()
const fault = ref('')
const loading = new Set<number>()
let generation = 0

const query = computed(() => ({
  find: get('find'),
  filter: filters.value,
  flag: get('flag') || undefined,
  evidence: get('set') || undefined,
  sort: sort.value,
}))

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
  [query, id],
  () => {
    generation++
    loading.clear()
    load(0)
  },
  { immediate: true },
)
onMounted(async () => {
  await nextTick()
  if (get('focus') === 'find') box.value?.querySelector('input')?.focus()
})
watch(
  () => get('focus'),
  (focus) => focus === 'find' && box.value?.querySelector('input')?.focus(),
)
const groups = computed(() => props.fields.filter((field) => field.values.length > 0 && field.values.length <= 60))
const sorts = computed(() => [
  ['', get('find') ? 'best match' : 'as brought in'],
  ['date', 'oldest'],
  ['-date', 'newest'],
  ['-words', 'longest'],
  ['words', 'shortest'],
  ...props.fields.map((field) => [field.name, field.name]),
])
function toggle(filter: string) {
  const now = filters.value
  set({ where: now.includes(filter) ? now.filter((each) => each !== filter) : [...now, filter] })
}
const value = (event: Event) => (event.target as HTMLInputElement).value
</script>

<template>
  <div ref="box" class="documents">
    <div class="row wrap">
      <InputText
        :model-value="get('find')"
        class="find"
        placeholder='Find: words, "a phrase", begin*'
        aria-label="Find documents"
        @input="set({ find: value($event), tab: 'documents' })" />
      <select
        v-for="field in groups"
        :key="field.name"
        :aria-label="`Filter by ${field.name}`"
        value=""
        @change="toggle(`${field.name}:${value($event)}`)">
        <option value="" disabled>{{ field.name }}</option>
        <option v-for="bar in field.values" :key="bar.label" :value="bar.label">
          {{ bar.label }} ({{ bar.count }})
        </option>
      </select>
      <label class="row small">
        order
        <select :value="sort" @change="set({ sort: value($event) })">
          <option v-for="[key, label] in sorts" :key="key" :value="key">{{ label }}</option>
        </select>
      </label>
      <span class="soft numbers">{{ total === undefined ? '' : counted(total, 'document') }}</span>
    </div>
    <div v-if="filters.length || get('flag') || get('set')" class="row wrap">
      <Button
        v-for="filter in filters"
        :key="filter"
        :label="`${filter.replace(':', ': ')} ×`"
        size="small"
        severity="secondary"
        :aria-label="`Remove the filter ${filter}`"
        @click="toggle(filter)" />
      <Button
        v-if="get('set')"
        label="the evidence set ×"
        size="small"
        severity="secondary"
        @click="set({ set: '' })" />
      <Button
        v-if="get('flag')"
        :label="`${get('flag')} ×`"
        size="small"
        severity="secondary"
        @click="set({ flag: '' })" />
    </div>
    <p v-if="fault" class="notice bad">{{ fault }}</p>
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
.find {
  width: 20rem;
}
.scroller {
  height: calc(100vh - 13rem);
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
