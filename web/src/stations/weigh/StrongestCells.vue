<script setup lang="ts">
import { computed, ref } from 'vue'

import { ask, client } from '@/api/client'
import { strandPath, useStrand, useStrandQuery } from '@/api/strand'
import { useAddress } from '@/frame/address'
import { useEvidence } from '@/frame/evidence'
import Waiting from '@/frame/Waiting.vue'
import ChartFrame from '@/marks/ChartFrame.vue'
import ThreadRows from '@/marks/ThreadRows.vue'
import { count } from '@/marks/format'

import { useOpenCell } from './cells'
import { five } from './numbers'
import { useScope } from './scope'

/** The cells that are not zero as rows: the strongest first, filtered, sorted, saved, or as bars. */
type Sort = '-weight' | 'weight' | '-n' | '-tf' | '-idf' | 'document' | 'term'
const { id, strand, ply } = useStrand()
const { get, set } = useAddress()
const { select } = useEvidence()
const open = useOpenCell()
const { scope } = useScope()
const sort = computed(() => get('csort', '-weight') as Sort)
const find = ref('')
const offset = ref(0)
const bars = ref(false)
const PAGE = 50
const asked = computed(() => ({ ...scope.value, sort: sort.value, find: find.value }))
const query = useStrandQuery(
  'cells',
  () => [
    strand.value?.wanted.clean,
    strand.value?.wanted.weigh,
    strand.value?.wanted.weighting,
    asked.value,
    offset.value,
  ],
  (strandId) =>
    ask(
      client.GET('/api/strands/{strand_id}/matrix/cells', {
        params: { ...strandPath(strandId), query: { ...asked.value, offset: offset.value, limit: PAGE } },
      }),
    ),
  () => !!ply('cleaning')?.identity,
)
const found = computed(() => query.data.value)
const sign = computed(() => ({ e: 'ln', '2': 'log₂', '10': 'log₁₀' })[found.value?.base ?? 'e'])
const COLUMNS = computed<[Sort | '', string, string][]>(() => [
  ['document', 'document', 'in the order of the documents'],
  ['term', 'term', 'in the order of the columns'],
  ['-n', 'n', 'how often the term is in the document'],
  ['-tf', 'tf', 'n / len, the share of the document'],
  ['-idf', 'idf', `${sign.value} (N / df)`],
  ['-weight', 'weight', 'under the weighting in force'],
])
function by(key: Sort | '') {
  if (!key) return
  offset.value = 0
  set({ csort: key === '-weight' && sort.value === '-weight' ? 'weight' : key })
}
const address = computed(() => {
  const parts = Object.entries(asked.value).filter(([, value]) => value !== undefined && value !== '')
  return new URLSearchParams(parts.map(([name, value]) => [name, String(value)])).toString()
})
const threads = computed(() =>
  (found.value?.rows ?? []).slice(0, 25).map((row) => ({
    key: `${row.document} ${row.term}`,
    label: row.display,
    value: row.weight,
    figure: `${five(row.weight)}  ·  ${row.name}`,
    said: `${row.display} in ${row.name}: ${five(row.weight)}`,
    knot: 4,
    evidence: { term: row.term, document: row.document },
  })),
)
const total = computed(() => found.value?.total ?? 0)
</script>

<template>
  <section aria-label="Cells as rows">
    <div class="row wrap ledger-head">
      <h2>Cells as rows</h2>
      <input
        v-model="find"
        class="typed small"
        placeholder="Find a term"
        aria-label="Find a term among the cells"
        @input="offset = 0" />
      <span class="soft small">{{ count(total) }} that are not zero</span>
      <span role="group" aria-label="Rows or bars" class="small">
        <button class="plain mode" :aria-pressed="!bars" @click="bars = false">rows</button>
        <button class="plain mode" :aria-pressed="bars" @click="bars = true">bars</button>
      </span>
      <a class="small" :href="`/api/strands/${id}/matrix/cells.csv?${address}`" download>save all as CSV</a>
    </div>
    <p v-if="query.error.value" class="notice bad">{{ query.error.value.message }}</p>
    <Waiting v-else-if="!found" what="Sorting the cells" />
    <ChartFrame
      v-else-if="bars"
      title="Strongest cells"
      :note="`weight, the first ${threads.length} in this order`"
      name="strongest-cells"
      :header="['document', 'term', 'n', 'tf', 'idf', 'weight']"
      :rows="found.rows.slice(0, 25).map((row) => [row.document + 1, row.display, row.n, row.tf, row.idf, row.weight])">
      <ThreadRows
        :rows="threads"
        title="Strongest cells"
        colour="var(--woad)"
        fill="var(--woad)"
        :high="21"
        :figure="210" />
    </ChartFrame>
    <table v-else class="ledger small" :class="{ waiting: query.isPlaceholderData.value }">
      <thead>
        <tr>
          <th
            v-for="[key, name, title] in COLUMNS"
            :key="name"
            :class="{ numbers: !['document', 'term'].includes(name) }"
            :aria-sort="sort === key ? (key.startsWith('-') ? 'descending' : 'ascending') : undefined">
            <button
              class="plain"
              :class="{ by: sort.replace('-', '') === key.replace('-', '') }"
              :title="title"
              @click="by(key)">
              {{ name }}
            </button>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in found.rows" :key="`${row.document} ${row.term}`">
          <td>
            <button class="plain" @click="select({ document: row.document })">{{ row.name }}</button>
          </td>
          <td class="book">
            <button class="plain" @click="open(row)">{{ row.display }}</button>
          </td>
          <td class="numbers">{{ count(row.n) }}</td>
          <td class="numbers">{{ five(row.tf) }}</td>
          <td class="numbers">{{ five(row.idf) }}</td>
          <td class="numbers">
            <button class="plain link" :title="'The formula with its numbers'" @click="open(row)">
              {{ five(row.weight) }}
            </button>
          </td>
        </tr>
      </tbody>
    </table>
    <p class="row small">
      <button v-if="offset" class="plain link" @click="offset = Math.max(0, offset - PAGE)">
        the {{ PAGE }} before
      </button>
      <button v-if="offset + PAGE < total" class="plain link" @click="offset += PAGE">the next {{ PAGE }}</button>
      <span v-if="total > PAGE" class="soft"
        >{{ count(offset + 1) }} to {{ count(Math.min(total, offset + PAGE)) }}</span
      >
    </p>
  </section>
</template>

<style scoped>
.by {
  font-weight: 700;
}
</style>
