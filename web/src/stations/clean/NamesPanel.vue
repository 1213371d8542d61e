<script setup lang="ts">
import { computed, ref } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { strandPath, useStrand, useStrandQuery, useWanted } from '@/api/strand'
import FileLink from '@/frame/FileLink.vue'
import { useSeen } from '@/frame/seen'
import Waiting from '@/frame/Waiting.vue'
import { useEvidence } from '@/frame/evidence'
import { useLeaveOut } from '@/frame/leaving'
import { count, counted, percent } from '@/marks/format'

import { mergedInto, termsOf } from './names'
import { ticked } from './phrases'
import { useTerms } from './terms'

/** Names of the corpus with what they are taken for; ticked ones become terms, stop words or a field. */
type Row = Schemas['NameRow']
const KINDS = ['person', 'place', 'organisation', 'other'] as const
type Kind = (typeof KINDS)[number]
const { ply, id } = useStrand()
const { wanted, change } = useWanted()
const { select, isSelected } = useEvidence()
const { leaveOut } = useLeaveOut()
const { terms, setTerms, asField: addField } = useTerms()
const kind = ref<Kind>()
const least = ref<number>()
const asked = computed(() => ({ kind: kind.value, least: least.value || undefined }))
const edits = computed(() => wanted.value?.names ?? { kinds: {}, merged: {} })
const panel = ref<HTMLElement>()
const seen = useSeen(panel)
const query = useStrandQuery(
  'names',
  () => [ply('cleaning')?.identity, asked.value, edits.value],
  (strand) =>
    ask(client.GET('/api/strands/{strand_id}/names', { params: { ...strandPath(strand), query: asked.value } })),
  () => seen.value && !!ply('cleaning')?.identity,
)
const found = computed(() => query.data.value)
const total = computed(() => Object.values(found.value?.kinds ?? {}).reduce((sum, each) => sum + each, 0))
const SHOWN = 15
const more = ref(false)
const shown = computed(() => found.value?.names.slice(0, more.value ? undefined : SHOWN) ?? [])
const picked = ref(new Set<string>())
const rows = computed(() => found.value?.names.filter((row) => picked.value.has(row.words)) ?? [])
const said = ref('')
function pick(row: Row, on: boolean) {
  const next = new Set(picked.value)
  if (on) next.add(row.words)
  else next.delete(row.words)
  picked.value = next
}
const setKind = (row: Row, to: string) =>
  change({ names: { ...edits.value, kinds: { ...edits.value.kinds, [row.words.toLowerCase()]: to as Kind } } })
async function merge() {
  await change({ names: { ...edits.value, merged: mergedInto(edits.value.merged ?? {}, rows.value) } })
  picked.value = new Set()
}
function asTerms() {
  setTerms(rows.value.reduce(ticked, terms.value))
  said.value = `${counted(rows.value.length, 'name')} will be terms`
}
function asStopWords() {
  leaveOut(...new Set(rows.value.flatMap((row) => row.variants.flatMap((each) => each.words.split(' ')))))
  said.value = 'They wait in the tray below'
}
const FIELDS: Record<Kind, string> = {
  person: 'persons mentioned',
  place: 'places mentioned',
  organisation: 'organisations mentioned',
  other: 'names mentioned',
}
async function asField() {
  const name = FIELDS[rows.value[0].kind]
  await addField(name, termsOf(rows.value))
  said.value = `The documents get a field “${name}”`
}
async function bring(file: File) {
  try {
    const body = { text: await file.text() }
    const read = await ask(client.POST('/api/strands/{strand_id}/names/read', { params: strandPath(id.value), body }))
    await change({ names: read.edits })
    said.value = `${counted(read.rows, 'row')} read${read.unknown ? `, ${read.unknown} of names that are not in this corpus` : ''}`
  } catch (problem) {
    said.value = (problem as Error).message
  }
}
const address = computed(() => {
  const parts = Object.entries(asked.value).filter(([, value]) => value !== undefined)
  return new URLSearchParams(parts.map(([name, value]) => [name, String(value)])).toString()
})
</script>

<template>
  <section ref="panel" class="names">
    <div class="row wrap ledger-head">
      <h2>Names</h2>
      <label class="small"
        >from
        <input
          v-model.lazy.number="least"
          type="number"
          min="1"
          placeholder="3"
          aria-label="Mentions of a name at least" />
        mentions</label
      >
      <a class="small" :href="`/api/strands/${id}/names.csv?${address}`" download>save as CSV</a>
      <FileLink class="small" accept=".csv" name="Bring a table of names in" @chosen="bring">bring a CSV in</FileLink>
      <span class="soft small" role="status">{{ said }}</span>
    </div>
    <p v-if="query.error.value" class="notice bad">{{ query.error.value.message }}</p>
    <Waiting v-else-if="!found" what="Looking for names" />
    <template v-else>
      <div class="row wrap small" role="group" aria-label="Kinds of names">
        <button class="plain mode" :aria-pressed="!kind" @click="kind = undefined">all {{ count(total) }}</button>
        <button v-for="each in KINDS" :key="each" class="plain mode" :aria-pressed="kind === each" @click="kind = each">
          {{ each === 'other' ? 'others' : `${each}s` }} {{ count(found.kinds[each] ?? 0) }}
        </button>
      </div>
      <p v-if="!found.total" class="soft small">No name of this kind is mentioned so often.</p>
      <table v-else class="ledger" :class="{ waiting: query.isPlaceholderData.value }">
        <thead class="soft small">
          <tr>
            <th />
            <th>name</th>
            <th>is a</th>
            <th>because</th>
            <th class="numbers">sure</th>
            <th class="numbers">mentions</th>
            <th>also written</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in shown" :key="row.words" :class="{ selected: isSelected({ word: row.variants[0].words }) }">
            <td>
              <input
                type="checkbox"
                :checked="picked.has(row.words)"
                :aria-label="`take ${row.words}`"
                @change="pick(row, ($event.target as HTMLInputElement).checked)" />
            </td>
            <td class="book">
              <button class="plain" @click="select({ word: row.variants[0].words })">{{ row.words }}</button>
            </td>
            <td>
              <select
                :value="row.kind"
                :aria-label="`What ${row.words} is`"
                @change="setKind(row, ($event.target as HTMLSelectElement).value)">
                <option v-for="each in KINDS" :key="each">{{ each }}</option>
              </select>
            </td>
            <td class="soft small">{{ row.reason }}</td>
            <td class="numbers" :class="{ soft: row.confidence < 0.5 }">{{ percent(row.confidence, 0) }}</td>
            <td class="numbers" :title="`in ${counted(row.documents, 'document')}`">{{ count(row.tokens) }}</td>
            <td class="book soft cut also">
              {{
                row.variants
                  .filter((each) => each.words !== row.words)
                  .map((each) => `${each.words} ${each.tokens}`)
                  .join(', ')
              }}
            </td>
          </tr>
        </tbody>
      </table>
      <span class="row wrap small">
        <button v-if="found.names.length > SHOWN" class="plain link" @click="more = !more">
          {{ more ? 'fewer' : `the first ${found.names.length}` }}
        </button>
        <button class="plain link" @click="picked = new Set(picked.size ? [] : shown.map((row) => row.words))">
          {{ picked.size ? 'take none' : `take the ${shown.length} shown` }}
        </button>
        <template v-if="rows.length">
          <b>{{ counted(rows.length, 'name') }}:</b>
          <button class="plain link" @click="asTerms">as terms</button>
          <button class="plain link" @click="asStopWords">as stop words</button>
          <button class="plain link" @click="asField">as a field, “{{ FIELDS[rows[0].kind] }}”</button>
          <button v-if="rows.length > 1" class="plain link" @click="merge">are one: {{ rows[0].words }}</button>
        </template>
      </span>
    </template>
  </section>
</template>

<style scoped>
.names {
  margin-top: 1.4rem;
}
.also {
  max-width: 12rem;
}
</style>
