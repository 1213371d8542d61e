<script setup lang="ts">
import { computed } from 'vue'

import { count, counted } from '@/marks/format'

import CutSettings from './CutSettings.vue'
import PagePart from './PagePart.vue'
import RecordTree from './RecordTree.vue'
import { calledIn, hasPages, type Preview, type Settings } from '@/frame/uploads'

type Role = NonNullable<Settings['roles']>[string]
const props = defineProps<{ file: Preview; table?: boolean }>()
const emit = defineEmits<{ change: [Settings]; remove: [] }>()
const ROLES: Role[] = [
  'text',
  'title',
  'identifier',
  'date',
  'group',
  'author',
  'source',
  'language',
  'kept',
  'ignored',
]
const DELIMITERS = [
  [',', 'comma'],
  [';', 'semicolon'],
  ['\t', 'tab'],
  ['|', 'bar'],
]
/** Whether a setting concerns this format. */
const asks = (setting: string) => props.file.asks.includes(setting)
/** A row that can't be used may have quotes after a backslash. */
const hasBackslashes = computed(() => props.file.rejected.some((row) => row.raw.includes('\\"')))
const place = (row: { line: number; place: string }) => (row.place ? row.place.split('/').at(-1) : count(row.line))
/** Columns that some of the rows looked at lack. */
const lacking = (column: string) => props.file.filled[column] < props.file.looked_at
const long = computed(() => {
  const text = props.file.columns.find((column) => props.file.settings.roles?.[column] === 'text') ?? ''
  return (
    props.file.rows.some((row) => (row.cells[text] ?? '').length > 300) || props.file.settings.cut?.by !== 'nothing'
  )
})
const change = (part: Partial<Settings>) => emit('change', { ...props.file.settings, ...part })
/** Another way of reading the file gives other columns, so their roles are guessed anew. */
const reread = (part: Partial<Settings>) => change({ ...part, roles: {}, names: {} })
function setRole(column: string, role: Role) {
  change({ roles: { ...props.file.settings.roles, [column]: role } })
}
const texts = computed(() => props.file.columns.filter((column) => props.file.settings.roles?.[column] === 'text'))
const called = (column: string) => calledIn(props.file.settings, column)
function call(column: string, name: string) {
  const names = { ...props.file.settings.names }
  if (name.trim() && name.trim() !== column) names[column] = name.trim()
  else delete names[column]
  change({ names })
}
const dateColumn = computed(() => props.file.columns.find((column) => props.file.settings.roles?.[column] === 'date'))
const examples = computed(() =>
  props.file.rows
    .map((row) => row.cells[dateColumn.value ?? ''])
    .filter(Boolean)
    .slice(0, 3)
    .join(', '),
)
const value = (event: Event) => (event.target as HTMLSelectElement).value
</script>

<template>
  <section class="file">
    <div class="row wrap">
      <h2>{{ file.name }}</h2>
      <span class="soft small">{{ count(Math.ceil(file.size / 1024)) }} kB</span>
      <label class="row small">
        read as
        <select
          :value="file.settings.format"
          @change="reread({ format: value($event) as Settings['format'], records: '', sheet: '', begin: 1 })">
          <option v-for="(label, key) in file.formats" :key="key" :value="key">{{ label }}</option>
        </select>
      </label>
      <label v-if="asks('encoding')" class="row small">
        encoding
        <select :value="file.settings.encoding" @change="change({ encoding: value($event) })">
          <option v-for="each in file.encodings" :key="each">{{ each }}</option>
        </select>
      </label>
      <label v-if="file.sheets.length > 1" class="row small">
        sheet
        <select :value="file.settings.sheet || file.sheets[0]" @change="reread({ sheet: value($event), begin: 1 })">
          <option v-for="each in file.sheets" :key="each">{{ each }}</option>
        </select>
      </label>
      <label v-if="asks('delimiter')" class="row small">
        cells end at
        <select :value="file.settings.delimiter" @change="reread({ delimiter: value($event) })">
          <option v-for="[key, label] in DELIMITERS" :key="key" :value="key">{{ label }}</option>
        </select>
      </label>
      <template v-if="asks('header')">
        <label class="row small">
          begins at {{ file.unit }}
          <input
            type="number"
            min="1"
            max="10000"
            class="number"
            :value="file.settings.begin"
            @change="reread({ begin: Math.max(1, Math.round(Number(value($event))) || 1) })" />
        </label>
        <label class="row small">
          <input type="checkbox" :checked="file.settings.header" @change="reread({ header: !file.settings.header })" />
          first row names the fields
        </label>
        <label v-if="asks('escaped') && (file.settings.escaped || hasBackslashes)" class="row small">
          <input
            type="checkbox"
            :checked="file.settings.escaped"
            @change="reread({ escaped: !file.settings.escaped })" />
          a backslash before quotes inside
        </label>
      </template>
      <span class="grow" />
      <button class="plain soft" :aria-label="`Remove ${file.name}`" @click="$emit('remove')">remove</button>
    </div>
    <RecordTree v-if="asks('records')" :file="file" @choose="reread({ records: $event })" />
    <PagePart v-if="!table && hasPages(file)" :file="file" @change="change($event)" />
    <CutSettings v-if="!table && long" :settings="file.settings" @change="change({ cut: $event })" />
    <p v-if="!table && texts.length > 1" class="notice">
      {{ texts.join(' and ') }}: each of them becomes a document of its own, with the other fields of its
      {{ file.unit === 'line' ? 'row' : file.unit }} and the name of its part. Give one another role to leave it as a
      field.
    </p>
    <p v-if="!table && !texts.length" class="notice bad">Give the field that holds the documents the role text.</p>
    <p v-if="file.unseen" class="notice">{{ file.unseen }}</p>
    <template v-if="!table">
      <p v-for="remark in file.remarks" :key="remark" class="notice">{{ remark }}</p>
    </template>
    <p v-if="file.doubtful" class="notice bad">
      {{ counted(file.doubtful, 'byte') }} can’t be read as {{ file.settings.encoding }}; they show as �. Try another
      encoding.
    </p>
    <p v-else-if="file.guessed_encoding" class="notice">
      The encoding is a guess. Look at the letters below, and choose another if they are wrong.
    </p>
    <p v-if="dateColumn && !file.order_is_certain" class="notice row wrap">
      {{ examples }}: which comes first?
      <label class="row"
        ><input
          type="radio"
          :checked="file.settings.date_order === 'day-first'"
          @change="change({ date_order: 'day-first' })" />
        the day</label
      >
      <label class="row"
        ><input
          type="radio"
          :checked="file.settings.date_order === 'month-first'"
          @change="change({ date_order: 'month-first' })" />
        the month</label
      >
    </p>
    <div class="scroll">
      <table>
        <thead>
          <tr>
            <th class="soft">{{ file.unit }}</th>
            <th v-for="column in file.columns" :key="column" :class="file.settings.roles?.[column]">
              <template v-if="table || file.settings.roles?.[column] === 'text'">{{ column }}</template>
              <input
                v-else
                class="called"
                maxlength="200"
                :aria-label="`Name of ${column} in the corpus`"
                :title="`${column} in the file; call it otherwise here`"
                :size="Math.max(4, called(column).length)"
                :value="called(column)"
                @change="call(column, value($event))" />
              <span
                v-if="lacking(column)"
                class="soft few"
                :title="`given in ${file.filled[column]} of the first ${file.looked_at}`"
                >{{ file.filled[column] }} of {{ file.looked_at }}</span
              >
              <select
                :value="file.settings.roles?.[column]"
                :aria-label="`Role of ${column}`"
                @change="setRole(column, value($event) as Role)">
                <option v-for="role in table ? ROLES.slice(1) : ROLES" :key="role">{{ role }}</option>
              </select>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(row, at) in file.rows" :key="at">
            <td class="soft numbers" :title="row.place">
              <div>{{ place(row) }}</div>
            </td>
            <td v-for="column in file.columns" :key="column" :class="file.settings.roles?.[column]">
              <div>
                <template v-for="(piece, number) in (row.cells[column] ?? '').split('\uFFFD')" :key="number"
                  ><mark v-if="number">�</mark>{{ piece }}</template
                >
              </div>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <details v-if="file.rejected.length">
      <summary class="loss">{{ counted(file.rejected.length, file.unit) }} of the first can’t be used</summary>
      <p v-for="(row, at) in file.rejected" :key="at" class="small">
        {{ row.place || `${file.unit} ${row.line}` }} {{ row.reason }}: <code>{{ row.raw.slice(0, 120) }}</code>
      </p>
    </details>
  </section>
</template>

<style scoped>
.file {
  border-top: 1px solid var(--hairline);
  padding-top: 0.8rem;
  display: grid;
  gap: 0.6rem;
  min-width: 0;
}
.scroll {
  overflow: auto;
  max-height: 19rem;
  border: 1px solid var(--hairline);
  background: var(--raised);
}
th,
td {
  text-align: left;
  vertical-align: top;
  padding: 0.3rem 0.6rem;
  border-bottom: 1px solid var(--hairline);
  white-space: nowrap;
}
th {
  position: sticky;
  top: 0;
  background: var(--raised);
}
th select {
  display: block;
  margin-top: 0.2rem;
}
td div {
  max-width: 16rem;
  overflow: hidden;
  text-overflow: ellipsis;
}
mark {
  background: var(--madder);
  color: var(--raised);
}
.few {
  margin-left: 0.4rem;
  font-weight: 400;
  font-size: 0.8rem;
}
td.text div {
  font-family: var(--book);
  max-width: 34rem;
}
td.ignored {
  color: var(--soft);
  text-decoration: line-through;
}
.called {
  border: 0;
  border-bottom: 1px dotted var(--soft);
  padding: 0;
  background: none;
  color: inherit;
  font: inherit;
  field-sizing: content;
}
th.text {
  box-shadow: inset 0 -3px var(--woad);
}
</style>
