<script setup lang="ts">
import { ask, client } from '@/api/client'
import { strandPath, useStrand, useStrandQuery } from '@/api/strand'
import { useEvidence } from '@/frame/evidence'
import Waiting from '@/frame/Waiting.vue'
import WorkingLines from '@/marks/WorkingLines.vue'
import { count, decimal } from '@/marks/format'

import TakeAsOne from './TakeAsOne.vue'

/** What makes two words near: the contexts that both have, and what each adds. */
const props = defineProps<{ one: string; other: string }>()
defineEmits<{ word: [string] }>()
const { ply } = useStrand()
const { select } = useEvidence()
const { data } = useStrandQuery(
  'pair of words',
  () => [ply('word_vectors')?.identity, props.one, props.other],
  (id) =>
    ask(
      client.GET('/api/strands/{strand_id}/relate/near-words/pair', {
        params: { ...strandPath(id), query: { term: props.one, other: props.other } },
      }),
    ),
)
</script>

<template>
  <section v-if="data" class="pair">
    <h2>{{ data.one.display }} and {{ data.other.display }}</h2>
    <p class="small soft">
      In {{ count(data.documents[0]) }} and {{ count(data.documents[1]) }} documents, in
      {{ count(data.documents[2]) }} together.
      <button class="plain link" @click="$emit('word', data.other.term)">nearest to {{ data.other.display }}</button>
    </p>
    <table v-if="data.shared.length" class="numbers small">
      <caption class="soft">
        {{
          count(data.near_both)
        }}
        words stand near both; the cosine of their contexts is the sum of what each adds
      </caption>
      <thead>
        <tr>
          <th>near both</th>
          <th>with {{ data.one.display }}</th>
          <th>with {{ data.other.display }}</th>
          <th>adds</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="each in data.shared.slice(0, 10)" :key="each.term">
          <td>
            <button class="plain book" @click="select({ term: data.one.term, with_term: each.term })">
              {{ each.display }}
            </button>
          </td>
          <td>{{ decimal(each.one) }}</td>
          <td>{{ decimal(each.other) }}</td>
          <td>{{ decimal(each.adds, 3) }}</td>
        </tr>
      </tbody>
    </table>
    <WorkingLines :lines="data.lines" />
    <TakeAsOne :terms="[data.one.term, data.other.term]" :words="[data.one.display, data.other.display]" />
  </section>
  <Waiting v-else what="Looking at what they share" />
</template>

<style scoped>
.pair {
  display: grid;
  gap: 0.4rem;
  align-content: start;
}
p {
  margin: 0;
}
caption {
  text-align: left;
  padding-bottom: 0.2rem;
}
th,
td {
  text-align: left;
  padding: 0.1rem 0.9rem 0.1rem 0;
  border-bottom: 1px solid var(--hairline);
}
td button.plain {
  min-height: 24px;
}
td button.plain:hover {
  color: var(--woad);
  text-decoration: underline;
}
</style>
