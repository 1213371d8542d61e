<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { computed, ref } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { count } from '@/marks/format'

import FilePreview from '../FilePreview.vue'
import { useShape, type Operation } from '@/frame/shape'
import { previewAgain, sendFile, type Preview, type Settings } from '@/frame/uploads'

/** A table is chosen and looked at before it is joined. */
const props = defineProps<{ kind: Schemas['OperationKind']; fields: Schemas['FieldSummary'][] }>()
const open = ref(false)
const { add, attempt } = useShape()
const table = ref<Preview>()
const field = ref('')
const key = ref('')
const repeated = ref<'refuse' | 'first'>('refuse')
const fault = ref('')
const step = ref<Schemas['ShapeStep']>()

/** No column of a table to join is a text. */
function plain(file: Preview): Preview {
  const roles = Object.entries(file.settings.roles ?? {}).map(([name, role]) => [
    name,
    role === 'text' ? 'group' : role,
  ])
  return { ...file, settings: { ...file.settings, roles: Object.fromEntries(roles) } }
}
/** The field and the column with the same name, or else whose values look alike. */
function guess() {
  if (!table.value) return
  const small = (name: string) => name.toLowerCase()
  const same = props.fields.find((each) => table.value!.columns.some((column) => small(column) === small(each.name)))
  const shared = (column: string, each: Schemas['FieldSummary']) => {
    const known = new Set([...each.values.map((bar) => small(bar.label)), small(each.example)])
    return table.value!.rows.filter((row) => known.has(small(row.cells[column] ?? ''))).length
  }
  let best = { field: same?.name ?? props.fields[0]?.name ?? '', column: table.value.columns[0], share: 0 }
  if (same) best.column = table.value.columns.find((column) => small(column) === small(same.name))!
  else
    for (const each of props.fields)
      for (const column of table.value.columns)
        if (shared(column, each) > best.share) best = { field: each.name, column, share: shared(column, each) }
  field.value = best.field
  key.value = best.column
}
const before = useQuery({ queryKey: ['uploads'], queryFn: () => ask(client.GET('/api/uploads')) })
async function take(from: Promise<Preview>) {
  try {
    table.value = plain(await from)
    guess()
    await look()
  } catch (problem) {
    fault.value = (problem as Error).message
  }
}
function choose(event: Event) {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (file) take(sendFile(file, () => undefined))
}
function again(event: Event) {
  const kept = before.data.value?.find((each) => each.sha256 === (event.target as HTMLSelectElement).value)
  if (kept)
    take(
      ask(
        client.POST('/api/uploads/{sha256}/preview', {
          params: { path: { sha256: kept.sha256 }, query: { name: kept.name } },
        }),
      ),
    )
}
async function adjust(settings: Settings) {
  if (table.value) table.value = plain(await previewAgain(table.value, settings))
  await look()
}
const operation = computed<Operation>(() => ({
  kind: 'join',
  sha256: table.value?.sha256 ?? '',
  name: table.value?.name ?? '',
  settings: table.value?.settings as Settings,
  field: field.value,
  key: key.value,
  case: false,
  repeated: repeated.value,
}))
async function look() {
  step.value = undefined
  try {
    step.value = await attempt(operation.value)
    fault.value = ''
  } catch (problem) {
    fault.value = (problem as Error).message
  }
}
function join() {
  add(operation.value)
  close()
}
function close() {
  open.value = false
  table.value = step.value = undefined
}
</script>

<template>
  <div v-if="!open" class="form">
    <h3>{{ kind.title }}</h3>
    <p class="small soft">{{ kind.about }}</p>
    <Button :label="kind.action" size="small" severity="secondary" @click="open = true" />
  </div>
  <div v-else class="form join">
    <h3>{{ kind.title }}</h3>
    <div v-if="!table" class="row wrap">
      <input type="file" aria-label="Table to join" @change="choose" />
      <label v-if="before.data.value?.length" class="row small">
        or one brought in before
        <select @change="again">
          <option value="">choose</option>
          <option v-for="each in before.data.value" :key="each.sha256" :value="each.sha256">{{ each.name }}</option>
        </select>
      </label>
    </div>
    <template v-else>
      <FilePreview :file="table" table @change="adjust" @remove="close()" />
      <div class="row wrap small">
        <label class="row">
          documents’ field
          <select v-model="field" @change="look">
            <option v-for="each in fields" :key="each.name">{{ each.name }}</option>
          </select>
        </label>
        <label class="row">
          is the table’s
          <select v-model="key" @change="look">
            <option v-for="column in table.columns" :key="column">{{ column }}</option>
          </select>
        </label>
        <label class="row">
          several rows of one key
          <select v-model="repeated" @change="look">
            <option value="refuse">are refused</option>
            <option value="first">the first is taken</option>
          </select>
        </label>
      </div>
    </template>
    <p v-if="fault" class="notice bad">{{ fault }}</p>
    <template v-if="step">
      <p v-for="note in step.notes" :key="note" class="small">{{ note }}</p>
      <details v-for="each in step.lists" :key="each.name" class="small">
        <summary class="loss">{{ count(each.total) }} {{ each.name }}</summary>
        {{ each.values.join(', ') }}{{ each.total > each.values.length ? ', …' : '' }}
      </details>
    </template>
    <div class="row">
      <Button v-if="table" label="Join" size="small" :disabled="!step" @click="join" />
      <button class="plain soft" @click="close()">cancel</button>
    </div>
  </div>
</template>

<style scoped>
.join {
  display: grid;
  gap: 0.6rem;
  min-width: 0;
  width: 100%;
}
</style>
