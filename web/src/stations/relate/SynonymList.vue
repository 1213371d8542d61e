<script setup lang="ts">
import { computed, ref } from 'vue'

import { ask, client } from '@/api/client'
import { strandPath, useStrandQuery } from '@/api/strand'
import { useEvidence } from '@/frame/evidence'
import { count, decimal } from '@/marks/format'

import TakeAsOne from './TakeAsOne.vue'

/** Words that are each other's nearest: two for one thing, or two that stand in a row. */
const props = defineProps<{ identity: string }>()
defineEmits<{ word: [string] }>()
const { select, isSelected } = useEvidence()
const query = useStrandQuery(
  'synonyms',
  () => props.identity,
  (id) => ask(client.GET('/api/strands/{strand_id}/relate/near-words/synonyms', { params: strandPath(id) })),
)
const FEW = 8
const all = ref(false)
const pairs = computed(() => (query.data.value?.pairs ?? []).slice(0, all.value ? undefined : FEW))
</script>

<template>
  <section v-if="query.data.value">
    <h2>Words that may be one</h2>
    <p class="small soft">{{ query.data.value.says }}</p>
    <table v-if="pairs.length" class="numbers small">
      <thead>
        <tr>
          <th>two words</th>
          <th>cosine</th>
          <th>documents with each</th>
          <th>with both</th>
          <th>at Clean</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="pair in pairs" :key="pair.one.term">
          <td>
            <button
              class="plain book"
              :aria-pressed="isSelected({ term: pair.one.term, with_term: pair.other.term })"
              @click="select({ term: pair.one.term, with_term: pair.other.term })">
              {{ pair.one.display }} · {{ pair.other.display }}
            </button>
          </td>
          <td>{{ decimal(pair.cosine) }}</td>
          <td>{{ count(pair.documents[0]) }} · {{ count(pair.documents[1]) }}</td>
          <td>
            {{ count(pair.documents[2]) }}
            <span v-if="pair.in_row" class="soft">: rather one term</span>
          </td>
          <td>
            <TakeAsOne
              :terms="[pair.one.term, pair.other.term]"
              :words="[pair.one.display, pair.other.display]"
              :row="pair.in_row" />
          </td>
        </tr>
      </tbody>
    </table>
    <button v-if="query.data.value.pairs.length > FEW" class="plain link small" @click="all = !all">
      {{ all ? 'fewer' : `all ${count(query.data.value.pairs.length)}` }}
    </button>
  </section>
</template>

<style scoped>
section {
  border-top: 1px solid var(--soft);
  padding-top: 0.5rem;
}
th,
td {
  text-align: left;
  padding: 0.15rem 1.2rem 0.15rem 0;
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
