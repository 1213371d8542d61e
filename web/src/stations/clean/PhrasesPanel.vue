<script setup lang="ts">
import { computed, ref } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { strandPath, useStrand, useStrandQuery } from '@/api/strand'
import FileLink from '@/frame/FileLink.vue'
import { useEvidence } from '@/frame/evidence'
import { useSeen } from '@/frame/seen'
import Waiting from '@/frame/Waiting.vue'
import { count, counted, decimal } from '@/marks/format'

import { isTicked, ticked, unticked } from './phrases'
import { useTerms } from './terms'

/** Runs of words that hold together; ticked ones become terms, with their variants. */
type Row = Schemas['PhraseRow']
type By = 'g2' | 'npmi' | 'pmi' | 't' | 'c_value' | 'tokens'
const { ply } = useStrand()
const { select, isSelected } = useEvidence()
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
const SHOWN = 15
const more = ref(false)
const shown = computed(() => found.value?.phrases.slice(0, more.value ? undefined : SHOWN) ?? [])
const { terms, setTerms, asField: addField } = useTerms()
const address = computed(() => {
  const parts = Object.entries(asked.value).filter(([, value]) => value !== undefined)
  return new URLSearchParams(parts.map(([name, value]) => [name, String(value)])).toString()
})
const { id } = useStrand()
const said = ref('')
async function bring(file: File) {
  try {
    const body = { text: await file.text() }
    const read = await ask(client.POST('/api/strands/{strand_id}/phrases/read', { params: strandPath(id.value), body }))
    setTerms([...new Set([...terms.value, ...read.terms])])
    said.value = `${counted(read.terms.length, 'line')} of terms brought in`
  } catch (problem) {
    said.value = (problem as Error).message
  }
}
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
    <div class="row wrap ledger-head">
      <h2>Phrases</h2>
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
      <a class="small" :href="`/api/strands/${id}/phrases.csv?${address}`" download>save as CSV</a>
      <FileLink class="small" accept=".csv" name="Bring a table of phrases in" @chosen="bring">bring a CSV in</FileLink>
      <span class="soft small" role="status">{{ said }}</span>
    </div>
    <p v-if="query.error.value" class="notice bad">{{ query.error.value.message }}</p>
    <Waiting v-else-if="!found" what="Looking for words that hold together" />
    <template v-else>
      <p class="soft small">
        {{ counted(found.total, 'phrase') }} of {{ count(found.least) }} tokens and more{{
          found.why ? ` (${found.why})` : ''
        }}; over no line, sentence or sign. A ticked one becomes a term, its variants with it.
      </p>
      <table v-if="found.total" class="ledger" :class="{ waiting: query.isPlaceholderData.value }">
        <thead class="soft small">
          <tr>
            <th />
            <th>phrase</th>
            <th
              v-for="[key, name, title] in COLUMNS"
              :key="key"
              class="numbers"
              :aria-sort="by === key ? 'descending' : undefined">
              <button class="plain" :class="{ by: by === key }" :title="title" @click="by = key">{{ name }}</button>
            </th>
            <th>also written</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in shown" :key="row.words" :class="{ selected: isSelected({ word: row.words }) }">
            <td>
              <input
                type="checkbox"
                :checked="isTicked(terms, row.words)"
                :aria-label="`${row.words} is a term`"
                @change="tick([row], ($event.target as HTMLInputElement).checked)" />
            </td>
            <td class="book">
              <button class="plain" @click="select({ word: row.words })">{{ row.words }}</button>
            </td>
            <td class="numbers" :title="`in ${counted(row.documents, 'document')}`">{{ count(row.tokens) }}</td>
            <td class="numbers">{{ decimal(row.pmi, 1) }}</td>
            <td class="numbers">{{ decimal(row.npmi) }}</td>
            <td class="numbers">{{ count(Math.round(row.g2)) }}</td>
            <td class="numbers">{{ decimal(row.t, 1) }}</td>
            <td class="numbers">{{ count(Math.round(row.c_value)) }}</td>
            <td class="book soft cut also">
              {{
                row.variants
                  .slice(1)
                  .map((each) => `${each.words} ${each.tokens}`)
                  .join(', ')
              }}
            </td>
          </tr>
        </tbody>
      </table>
      <span class="row small">
        <button v-if="found.phrases.length > SHOWN" class="plain link" @click="more = !more">
          {{ more ? 'fewer' : `the first ${found.phrases.length}` }}
        </button>
        <button v-if="shown.length" class="plain link" @click="tick(shown, true)">
          tick the {{ shown.length }} shown
        </button>
        <button v-if="terms.length" class="plain link" @click="asField">
          the {{ counted(terms.length, 'line') }} of terms as a field, “phrases”
        </button>
      </span>
    </template>
  </section>
</template>

<style scoped>
.phrases {
  margin-top: 1.4rem;
}
.by {
  color: var(--ink);
  font-weight: 600;
}
.also {
  max-width: 14rem;
}
</style>
