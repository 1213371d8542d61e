<script setup lang="ts">
import { computed, ref } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { strandPath, useStrand, useStrandQuery, useWanted } from '@/api/strand'
import { useSeen } from '@/frame/seen'
import { useLeaveOut } from '@/frame/leaving'
import { count, counted, percent } from '@/marks/format'

import FoundTable from './FoundTable.vue'
import { addressOf, useSaid } from './found'
import { mergedInto, termsOf } from './names'
import { ticked } from './phrases'
import { useTerms } from './terms'

/** Names of the corpus with what they are taken for; ticked ones become terms, stop words or a field. */
type Row = Schemas['Name']
type Kind = Row['kind']
const { ply, id } = useStrand()
const { wanted, change } = useWanted()
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
const kinds = computed(() => Object.keys(found.value?.kinds ?? {}) as Kind[])
const total = computed(() => Object.values(found.value?.kinds ?? {}).reduce((sum, each) => sum + each, 0))
const picked = ref(new Set<string>())
const rows = computed(() => found.value?.names.filter((row) => picked.value.has(row.words)) ?? [])
const { said, attempt } = useSaid()
function pick(some: Row[], on: boolean) {
  const next = new Set(picked.value)
  for (const row of some)
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
const plural = (of: Kind) => (of === 'other' ? 'others' : `${of}s`)
/** What a field of names of a kind is called. */
const fieldOf = (of: Kind) => `${of === 'other' ? 'names' : plural(of)} mentioned`
async function asField() {
  const name = fieldOf(rows.value[0].kind)
  await addField(name, termsOf(rows.value))
  said.value = `The documents get a field “${name}”`
}
const bring = (text: string) =>
  attempt(async () => {
    const body = { text }
    const read = await ask(client.POST('/api/strands/{strand_id}/names/read', { params: strandPath(id.value), body }))
    await change({ names: read.edits })
    return `${counted(read.rows, 'row')} read${read.unknown ? `, ${read.unknown} of names that are not in this corpus` : ''}`
  })
</script>

<template>
  <section ref="panel" class="names">
    <FoundTable
      title="Names"
      noun="name"
      :rows="found?.names"
      :waiting="query.isPlaceholderData.value"
      :error="query.error.value"
      :table="`/api/strands/${id}/names.csv?${addressOf(asked)}`"
      :said="said"
      :picked="(row) => picked.has(row.words)"
      :labelled="(words) => `take ${words}`"
      @pick="pick"
      @bring="bring">
      <template #filters>
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
      </template>
      <template v-if="found" #about>
        <div class="row wrap small" role="group" aria-label="Kinds of names">
          <button class="plain mode" :aria-pressed="!kind" @click="kind = undefined">all {{ count(total) }}</button>
          <button
            v-for="each in kinds.filter((each) => found?.kinds[each])"
            :key="each"
            class="plain mode"
            :aria-pressed="kind === each"
            @click="kind = each">
            {{ plural(each) }} {{ count(found.kinds[each] ?? 0) }}
          </button>
        </div>
        <p v-if="!found.total" class="soft small">No name of this kind is mentioned so often.</p>
      </template>
      <template #head>
        <th>is a</th>
        <th>because</th>
        <th class="numbers">sure</th>
        <th class="numbers">mentions</th>
      </template>
      <template #cells="{ row, documents }">
        <td>
          <select
            :value="row.kind"
            :aria-label="`What ${row.words} is`"
            @change="setKind(row, ($event.target as HTMLSelectElement).value)">
            <option v-for="each in kinds" :key="each">{{ each }}</option>
          </select>
        </td>
        <td class="soft small">{{ row.reason }}</td>
        <td class="numbers" :class="{ soft: row.confidence < 0.5 }">{{ percent(row.confidence, 0) }}</td>
        <td class="numbers" :title="documents">{{ count(row.tokens) }}</td>
      </template>
      <template #actions="{ shown }">
        <button class="plain link" @click="picked = new Set(picked.size ? [] : shown.map((row) => row.words))">
          {{ picked.size ? 'take none' : `take the ${shown.length} shown` }}
        </button>
        <template v-if="rows.length">
          <b>{{ counted(rows.length, 'name') }}:</b>
          <button class="plain link" @click="asTerms">as terms</button>
          <button class="plain link" @click="asStopWords">as stop words</button>
          <button class="plain link" @click="asField">as a field, “{{ fieldOf(rows[0].kind) }}”</button>
          <button v-if="rows.length > 1" class="plain link" @click="merge">are one: {{ rows[0].words }}</button>
        </template>
      </template>
    </FoundTable>
  </section>
</template>
