<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref } from 'vue'

import type { Schemas } from '@/api/client'
import { count } from '@/marks/format'

import FilePreview from './FilePreview.vue'
import { useShape, type Operation } from './shape'
import { previewAgain, sendFile, type Preview, type Settings } from './uploads'

const props = defineProps<{ fields: Schemas['FieldSummary'][] }>()
const emit = defineEmits<{ done: [] }>()
const { add, attempt } = useShape()
const table = ref<Preview>()
const field = ref('')
const key = ref('')
const repeated = ref<'refuse' | 'first'>('refuse')
const fault = ref('')
const step = ref<Schemas['ShapeStep']>()

/** The field and the column with the same name, or else whose values look alike. */
function guess() {
  if (!table.value) return
  const plain = (name: string) => name.toLowerCase()
  const same = props.fields.find((each) => table.value!.columns.some((column) => plain(column) === plain(each.name)))
  const shared = (column: string, each: Schemas['FieldSummary']) => {
    const known = new Set([...each.values.map((bar) => plain(bar.label)), plain(each.example)])
    return table.value!.rows.filter((row) => known.has(plain(row.cells[column] ?? ''))).length
  }
  let best = { field: same?.name ?? props.fields[0]?.name ?? '', column: table.value.columns[0], share: 0 }
  if (same) best.column = table.value.columns.find((column) => plain(column) === plain(same.name))!
  else
    for (const each of props.fields)
      for (const column of table.value.columns)
        if (shared(column, each) > best.share) best = { field: each.name, column, share: shared(column, each) }
  field.value = best.field
  key.value = best.column
}
async function take(list: FileList | null) {
  if (!list?.length) return
  try {
    table.value = await sendFile(list[0], () => undefined)
    guess()
    await look()
  } catch (problem) {
    fault.value = (problem as Error).message
  }
}
async function adjust(settings: Settings) {
  if (table.value) table.value = await previewAgain(table.value, settings)
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
  emit('done')
}
</script>

<template>
  <div class="join">
    <input
      v-if="!table"
      type="file"
      aria-label="Table to join"
      @change="take(($event.target as HTMLInputElement).files)" />
    <template v-else>
      <FilePreview :file="table" table @change="adjust" @remove="emit('done')" />
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
      <details v-for="(values, name) in step.lists" :key="name" class="small">
        <summary class="loss">{{ count(values.length) }} {{ name }}</summary>
        {{ values.join(', ') }}
      </details>
    </template>
    <div class="row">
      <Button v-if="table" label="Join" size="small" :disabled="!step" @click="join" />
      <button class="plain soft" @click="emit('done')">cancel</button>
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
