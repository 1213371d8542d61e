<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, nextTick, onMounted, ref, watch } from 'vue'

import type { Schemas } from '@/api/client'
import { say } from '@/frame/notices'
import { useAddress } from '@/frame/address'
import { counted } from '@/marks/format'

import { useDocumentQuery } from './query'
import { useShape, type Operation } from '@/frame/shape'

const props = defineProps<{
  fields: Schemas['FieldSummary'][]
  languages: Schemas['Bar'][]
  total?: number
  flagged?: string | null
}>()
const { get, list, set } = useAddress()
const { query, any, asStep } = useDocumentQuery()
const { add } = useShape()
const context = computed(() => get('view') === 'context')
const filters = computed(() => list('where'))
const box = ref<HTMLElement>()
const ranges = ref(false)
const working = ref(false)

const RANGES = [
  ['least', 'words from', 'Least words', 'number'],
  ['most', 'to', 'Most words', 'number'],
  ['from', 'dates from', 'First date', 'text'],
  ['to', 'to', 'Last date', 'text'],
] as const
const SAID: [string, (value: string) => string][] = [
  ['least', (value) => `${value} words or more`],
  ['most', (value) => `${value} words at most`],
  ['from', (value) => `from ${value}`],
  ['to', (value) => `to ${value}`],
  ['flag', () => props.flagged?.toLowerCase() ?? ''],
  ['set', () => 'the evidence set'],
]
const groups = computed(() => props.fields.filter((field) => field.values.length > 0 && field.values.length <= 60))
const sorts = computed(() => [
  ['', get('find') && !query.value.expression ? 'best match' : 'as brought in'],
  ['date', 'oldest'],
  ['-date', 'newest'],
  ['-words', 'longest'],
  ['words', 'shortest'],
  ...props.fields.map((field) => [field.name, field.name]),
])
const value = (event: Event) => (event.target as HTMLInputElement).value
function toggle(name: 'where' | 'language', each: string) {
  const now = list(name)
  set({ [name]: now.includes(each) ? now.filter((other) => other !== each) : [...now, each] })
}
/** Everything that narrows the list, each to be taken away. */
const narrowed = computed(() => [
  ...filters.value.map((each) => ({ label: each.replace(':', ': '), drop: () => toggle('where', each) })),
  ...list('language').map((each) => ({ label: each, drop: () => toggle('language', each) })),
  ...SAID.filter(([name]) => get(name)).map(([name, said]) => ({
    label: said(get(name)),
    drop: () => set({ [name]: '' }),
  })),
])
/** Make a recorded step of what narrows the list now. */
async function keep(out: boolean) {
  working.value = true
  try {
    await add((await asStep(out)) as Operation)
    const none = { where: [], language: [], least: '', most: '', from: '', to: '', flag: '', set: '' }
    await set({ ...none, tab: 'shape', find: '' })
  } catch (problem) {
    say((problem as Error).message, 'bad')
  } finally {
    working.value = false
  }
}
const toFind = () => get('focus') === 'find' && box.value?.querySelector('input')?.focus()
onMounted(() => nextTick(toFind))
watch(() => get('focus'), toFind)
</script>

<template>
  <div ref="box" class="bar">
    <div class="row wrap">
      <InputText
        :model-value="get('find')"
        class="find"
        :placeholder="
          query.expression ? 'A regular expression' : 'words, &quot;a phrase&quot;, begin*, a NEAR/5 b, field:value'
        "
        aria-label="Find documents"
        @input="set({ find: value($event), tab: 'documents', line: '' })" />
      <label class="row small">
        <input
          type="checkbox"
          :checked="query.expression"
          @change="set({ as: query.expression ? '' : 'expression' })" />
        regular expression
      </label>
      <span role="group" aria-label="Show">
        <button class="plain mode" :aria-pressed="!context" @click="set({ view: '' })">documents</button>
        <button class="plain mode" :aria-pressed="context" @click="set({ view: 'context' })">in context</button>
      </span>
      <span class="soft numbers">{{ total === undefined ? '' : counted(total, 'document') }}</span>
    </div>
    <div class="row wrap small">
      <select
        v-for="field in groups"
        :key="field.name"
        :aria-label="`Filter by ${field.name}`"
        value=""
        @change="toggle('where', `${field.name}:${value($event)}`)">
        <option value="" disabled>{{ field.name }}</option>
        <option v-for="bar in field.values" :key="bar.label" :value="bar.label">
          {{ bar.label }} ({{ bar.count }})
        </option>
      </select>
      <select
        v-if="languages.length > 1"
        aria-label="Filter by language"
        value=""
        @change="toggle('language', value($event))">
        <option value="" disabled>language</option>
        <option v-for="bar in languages" :key="bar.label" :value="bar.label">{{ bar.label }} ({{ bar.count }})</option>
      </select>
      <button class="plain link" :aria-expanded="ranges" @click="ranges = !ranges">length and dates</button>
      <template v-if="ranges">
        <label v-for="[name, label, title, type] in RANGES" :key="name" class="row">
          {{ label }}
          <input
            :type="type"
            min="0"
            :placeholder="type === 'text' ? '2014-03' : ''"
            class="number"
            :aria-label="title"
            :value="get(name)"
            @change="set({ [name]: value($event) })" />
        </label>
      </template>
      <label v-if="!context" class="row">
        order
        <select :value="get('sort')" @change="set({ sort: value($event) })">
          <option v-for="[key, label] in sorts" :key="key" :value="key">{{ label }}</option>
        </select>
      </label>
    </div>
    <div v-if="any" class="row wrap">
      <Button
        v-for="each in narrowed"
        :key="each.label"
        :label="`${each.label} ×`"
        size="small"
        severity="secondary"
        :aria-label="`Remove the filter ${each.label}`"
        @click="each.drop" />
      <Button label="Keep only these" size="small" :disabled="!total || working" @click="keep(false)" />
      <Button
        label="Leave these out"
        size="small"
        severity="secondary"
        :disabled="!total || working"
        @click="keep(true)" />
    </div>
  </div>
</template>

<style scoped>
.bar {
  display: grid;
  gap: 0.5rem;
}
.find {
  width: 23rem;
}
</style>
