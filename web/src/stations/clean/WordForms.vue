<script setup lang="ts">
import { computed, ref, watch } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { strandPath, useStrand, useStrandQuery } from '@/api/strand'
import { useEvidence } from '@/frame/evidence'
import { useSeen } from '@/frame/seen'
import Waiting from '@/frame/Waiting.vue'
import { count, counted } from '@/marks/format'

import FamilyRow from './FamilyRow.vue'
import { useGiven } from './given'

/** Word forms side by side: for a sentence, for the vocabulary, and families to doubt. */
const props = defineProps<{
  found: Schemas['FormsSideBySide'] | undefined
  sentence: { text: string; language: string }
}>()
const { strand } = useStrand()
const { pass, set, apart } = useGiven()
const { select, isSelected } = useEvidence()
const typed = ref('')
const touched = ref(false)
watch(
  () => props.sentence.text,
  (text) => !touched.value && (typed.value = text),
  { immediate: true },
)
/** The document's language, as long as it is the specimen that is compared. */
const spoken = computed(() => (touched.value ? '' : props.sentence.language))
const clean = () => strand.value?.wanted.clean
const compared = useStrandQuery(
  'forms of a sentence',
  () => [typed.value, spoken.value, clean()],
  (id) =>
    ask(
      client.GET('/api/strands/{strand_id}/word-forms/sentence', {
        params: { ...strandPath(id), query: { text: typed.value.slice(0, 2000), language: spoken.value } },
      }),
    ),
  () => !!typed.value.trim(),
)
const families = ref<HTMLElement>()
const seen = useSeen(families)
const doubted = useStrandQuery(
  'doubtful families',
  clean,
  (id) => ask(client.GET('/api/strands/{strand_id}/word-forms/doubtful', { params: strandPath(id) })),
  seen,
)
const chosen = ref('')
const method = computed(
  () => props.found?.methods.find((each) => each.title === chosen.value) ?? props.found?.methods.find((m) => m.wanted),
)
/** Forms on which not all columns agree. */
const apartIn = (row: Schemas['WordRow']) => new Set(row.forms).size > 1
const seconds = (value: number) =>
  value < 0.1 ? `${Math.max(1, Math.round(value * 1000))} ms` : `${value.toFixed(1)} s`
const two = (value: number) => value.toFixed(2).replace(/^0/, '')
</script>

<template>
  <section class="forms">
    <h2>Word forms side by side</h2>
    <Waiting v-if="!found" what="Bringing words together in every way" />
    <template v-else>
      <table class="methods">
        <thead>
          <tr>
            <th>method</th>
            <th class="numbers">words</th>
            <th class="numbers">forms</th>
            <th class="numbers">families</th>
            <th class="numbers">it alone makes</th>
            <th class="numbers">takes</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in found.methods" :key="row.title" :class="{ selected: row === method }">
            <td>
              <button class="plain" :aria-pressed="row === method" @click="chosen = row.title">{{ row.title }}</button>
            </td>
            <td class="numbers">{{ count(row.before) }}</td>
            <td class="numbers">{{ count(row.after) }}</td>
            <td class="numbers">{{ count(row.families) }}</td>
            <td class="numbers">{{ count(row.n_alone) }}</td>
            <td class="numbers soft">{{ seconds(row.seconds) }}</td>
            <td class="small">
              <span v-if="row.wanted && pass?.on" class="soft">in use</span>
              <button v-else-if="pass" class="plain link" @click="set({ ...row.settings, on: true })">use it</button>
            </td>
          </tr>
        </tbody>
      </table>
      <p v-if="found.sample" class="soft small">as {{ counted(found.sample, 'document') }} have it</p>
      <h3>Of a sentence</h3>
      <textarea
        v-model="typed"
        rows="2"
        class="book"
        aria-label="A sentence to compare word forms on"
        @input="touched = true" />
      <table v-if="compared.data.value?.rows.length" class="book compared">
        <thead>
          <tr>
            <th>word</th>
            <th v-for="column in compared.data.value.columns" :key="column.title" :class="{ mine: column.wanted }">
              {{ column.title }}
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in compared.data.value.rows" :key="row.word">
            <td>{{ row.word }}</td>
            <td
              v-for="(form, at) in row.forms"
              :key="at"
              :class="{ changed: form !== row.word.toLowerCase(), unlike: apartIn(row) }">
              {{ form }}
            </td>
          </tr>
        </tbody>
      </table>
      <div ref="families" class="halves">
        <div>
          <h3>Families to doubt</h3>
          <Waiting v-if="!doubted.data.value" what="Comparing the neighbours of words" />
          <template v-else>
            <p class="soft small">
              {{ counted(doubted.data.value.looked_at, 'pair') }} of words brought together, each of
              {{ doubted.data.value.least_tokens }} tokens or more, by how alike their neighbours are; 1: as each word’s
              own are to themselves{{
                doubted.data.value.sample ? `, in ${counted(doubted.data.value.sample, 'document')}` : ''
              }}
            </p>
            <div v-for="row in doubted.data.value.doubtful" :key="row.first.word + row.second.word" class="doubt">
              <span class="row baseline">
                <b class="numbers" :title="`${two(row.low)} to ${two(row.high)} over splits of the documents`">{{
                  two(row.alike)
                }}</b>
                <span class="soft small">{{ two(row.low) }}–{{ two(row.high) }}</span>
                <span class="book form grow">{{ row.form }}</span>
                <button class="plain link small" @click="apart([row.second.word])">
                  let {{ row.second.word }} stand alone
                </button>
              </span>
              <span
                v-for="[member, beside] in [
                  [row.first, row.beside_first],
                  [row.second, row.beside_second],
                ] as [Schemas['Member'], string[]][]"
                :key="member.word"
                class="reading">
                <button
                  class="plain book"
                  :class="{ selected: isSelected({ word: member.word }) }"
                  @click="select({ word: member.word })">
                  {{ member.word }} <span class="soft small">{{ count(member.tokens) }}</span>
                </button>
                <span class="soft small cut">beside {{ beside.join(', ') }}</span>
              </span>
            </div>
            <p v-if="!doubted.data.value.doubtful.length" class="soft">
              No two words that become one are frequent enough to be compared.
            </p>
          </template>
        </div>
        <div v-if="method">
          <h3>Only by {{ method.title }}</h3>
          <p class="soft small">
            {{ counted(method.n_alone, 'family', 'families') }} that no other method makes, the most frequent first
          </p>
          <FamilyRow v-for="family in method.alone" :key="family.form" :family="family" />
        </div>
      </div>
    </template>
  </section>
</template>

<style scoped>
h3 {
  margin: 1.1rem 0 0.3rem;
}
table {
  border-collapse: collapse;
}
th {
  text-align: left;
  font-weight: 400;
  color: var(--soft);
  font-size: 0.85rem;
  padding: 0 1rem 0.2rem 0;
}
th.numbers,
td.numbers {
  white-space: nowrap;
  text-align: right;
}
td {
  border-top: 1px solid var(--hairline);
  padding: 0.2rem 1rem 0.2rem 0;
}
.methods,
.compared {
  width: 100%;
}
.halves {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 1.6rem;
  margin-top: 0.6rem;
}
.halves > * {
  min-width: 0;
  overflow-x: auto;
}
textarea {
  width: 100%;
  resize: vertical;
}
th.mine {
  color: var(--ink);
  font-weight: 600;
}
.changed {
  color: var(--woad);
}
.unlike {
  background: var(--sunk);
}
.doubt {
  display: grid;
  gap: 0.1rem;
  border-bottom: 1px solid var(--hairline);
  padding: 0.3rem 0;
}
.baseline {
  align-items: baseline;
}
.form {
  color: var(--woad);
}
.reading button {
  min-height: 24px;
  white-space: nowrap;
}
.reading {
  display: flex;
  gap: 0.6rem;
  align-items: baseline;
  padding-left: 2.2rem;
  min-width: 0;
}
@media (max-width: 1180px) {
  .halves {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
