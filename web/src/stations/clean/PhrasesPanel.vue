<script setup lang="ts">
import { computed, ref } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { strandPath, useStrand, useStrandQuery } from '@/api/strand'
import { useSeen } from '@/frame/seen'
import { count, counted, decimal } from '@/marks/format'

import FoundTable from './FoundTable.vue'
import { addressOf, useSaid } from './found'
import { isTicked, ticked, unticked } from './phrases'
import { useTerms } from './terms'

/** Runs of words that hold together; ticked ones become terms, with their variants. */
type Row = Schemas['Phrase']
type By = 'g2' | 'npmi' | 'pmi' | 't' | 'c_value' | 'tokens'
const { ply, id } = useStrand()
const by = ref<By>('g2')
const longest = ref(4)
const inside = ref(false)
const nouns = ref(false)
const least = ref<number>()
const asked = computed(() => ({
  by: by.value,
  longest: longest.value,
  inside: inside.value,
  nouns: nouns.value,
  least: least.value || undefined,
}))
const panel = ref<HTMLElement>()
const seen = useSeen(panel)
const query = useStrandQuery(
  'phrases',
  () => [ply('cleaning')?.identity, asked.value],
  (id) => ask(client.GET('/api/strands/{strand_id}/phrases', { params: { ...strandPath(id), query: asked.value } })),
  () => seen.value && !!ply('cleaning')?.identity,
)
const found = computed(() => query.data.value)
const { terms, setTerms, asField: addField } = useTerms()
const { said, attempt } = useSaid()
const bring = (text: string) =>
  attempt(async () => {
    const body = { text }
    const read = await ask(client.POST('/api/strands/{strand_id}/phrases/read', { params: strandPath(id.value), body }))
    setTerms([...new Set([...terms.value, ...read.terms])])
    return `${counted(read.terms.length, 'line')} of terms brought in`
  })
/** The ticked phrases as a field of the documents. */
async function asField() {
  await addField('phrases', terms.value)
  said.value = 'The documents get a field “phrases”'
}
function tick(rows: Row[], on: boolean) {
  const next = rows.reduce((all, row) => (on ? ticked(all, row) : unticked(all, row)), terms.value)
  setTerms(next)
}
const COLUMNS: [By, string, string][] = [
  ['tokens', 'tokens', 'how often it is found, all variants together'],
  ['pmi', 'PMI', 'pointwise mutual information in bits: high for rare ones'],
  ['npmi', 'NPMI', 'how much more often than by chance, 1: never apart'],
  ['g2', 'G²', 'log-likelihood ratio: evidence that it is no chance'],
  ['t', 't', 't-score: the difference to chance in standard errors, high for frequent ones'],
  ['c_value', 'C-value', 'frequency by length, less what stands inside longer phrases'],
]
</script>

<template>
  <section ref="panel" class="phrases">
    <FoundTable
      title="Phrases"
      noun="phrase"
      :rows="found?.phrases"
      :waiting="query.isPlaceholderData.value"
      :error="query.error.value"
      :table="`/api/strands/${id}/phrases.csv?${addressOf(asked)}`"
      :said="said"
      :picked="(row) => isTicked(terms, row.words)"
      :labelled="(words) => `${words} is a term`"
      @pick="tick"
      @bring="bring">
      <template #filters>
        <label class="small"
          >at most
          <select v-model.number="longest" aria-label="Words of a phrase at most">
            <option v-for="n in [2, 3, 4, 5, 6]" :key="n">{{ n }}</option>
          </select>
          words</label
        >
        <label class="small"
          >from
          <input
            v-model.lazy.number="least"
            type="number"
            min="2"
            :placeholder="found ? String(found.least) : ''"
            aria-label="Tokens of a phrase at least" />
          tokens</label
        >
        <label class="small"><input v-model="inside" type="checkbox" /> function words inside</label>
        <label class="small"
          ><input v-model="nouns" type="checkbox" @change="nouns && (by = 'c_value')" /> noun phrases</label
        >
      </template>
      <template v-if="found" #about>
        <p class="soft small">
          {{ counted(found.total, 'phrase') }} of {{ count(found.least) }} tokens and more{{
            found.why ? ` (${found.why})` : ''
          }}; over no line, sentence or sign. A ticked one becomes a term, its variants with it.
        </p>
      </template>
      <template #head>
        <th
          v-for="[key, name, title] in COLUMNS"
          :key="key"
          class="numbers"
          :aria-sort="by === key ? 'descending' : undefined">
          <button class="plain" :class="{ by: by === key }" :title="title" @click="by = key">{{ name }}</button>
        </th>
      </template>
      <template #cells="{ row, documents }">
        <td class="numbers" :title="documents">{{ count(row.tokens) }}</td>
        <td class="numbers">{{ decimal(row.pmi, 1) }}</td>
        <td class="numbers">{{ decimal(row.npmi) }}</td>
        <td class="numbers">{{ count(Math.round(row.g2)) }}</td>
        <td class="numbers">{{ decimal(row.t, 1) }}</td>
        <td class="numbers">{{ count(Math.round(row.c_value)) }}</td>
      </template>
      <template #actions="{ shown }">
        <button v-if="shown.length" class="plain link" @click="tick(shown, true)">
          tick the {{ shown.length }} shown
        </button>
        <button v-if="terms.length" class="plain link" @click="asField">
          the {{ counted(terms.length, 'line') }} of terms as a field, “phrases”
        </button>
      </template>
    </FoundTable>
  </section>
</template>

<style scoped>
.by {
  color: var(--ink);
  font-weight: 600;
}
</style>
