<script setup lang="ts">
import { computed, ref } from 'vue'

import { ask, client } from '@/api/client'
import { strandPath, useStrand, useStrandQuery } from '@/api/strand'
import { useEvidence } from '@/frame/evidence'
import { useLeaveOut } from '@/frame/leaving'
import Waiting from '@/frame/Waiting.vue'
import { decimal, percent } from '@/marks/format'

import LeaveButton from './LeaveButton.vue'

/** Words that tell nothing by their spread; each is left out by a click or by x. */
const { ply, strand } = useStrand()
const { select, isSelected } = useEvidence()
const { leaveOut } = useLeaveOut()
const query = useStrandQuery(
  'suggested words',
  () => ply('cleaning')?.identity,
  (id) => ask(client.GET('/api/strands/{strand_id}/suggested-words', { params: strandPath(id) })),
  () => !!ply('cleaning')?.identity,
)
const found = computed(() => query.data.value)
const listed = computed(
  () =>
    new Set(
      (strand.value?.wanted.clean?.passes ?? []).flatMap((pass) =>
        pass.kind === 'domain-words' ? (pass.words ?? []).map((word) => word.toLowerCase()) : [],
      ),
    ),
)
const gone = (word: string) => listed.value.has(word.toLowerCase())
const SHOWN = 12
const more = ref(false)
const common = computed(() => found.value?.common.slice(0, more.value ? 40 : SHOWN) ?? [])
</script>

<template>
  <section class="suggested">
    <p v-if="query.error.value" class="notice bad">{{ query.error.value.message }}</p>
    <Waiting v-else-if="!found" what="Looking for words that tell nothing" />
    <template v-else>
      <h2>Words that may tell nothing</h2>
      <p class="soft small">
        in a tenth of the documents and more; 1.00: spread as evenly as words dealt out by chance, over documents{{
          found.by ? `, over ${found.by}` : ''
        }}{{ found.fit ? ', over topics' : '' }}
      </p>
      <table v-if="common.length">
        <thead class="soft small">
          <tr>
            <th>word</th>
            <th title="share of the documents that hold it">in</th>
            <th title="evenness over documents">documents</th>
            <th v-if="found.by">{{ found.by }}</th>
            <th v-if="found.fit">topics</th>
            <th />
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="each in common"
            :key="each.word"
            class="numbers"
            :class="{ selected: isSelected({ word: each.word }), gone: gone(each.word) }">
            <td class="book">
              <button class="plain" @click="select({ word: each.word })" @keydown.x.stop="leaveOut(each.word)">
                {{ each.word }}
              </button>
            </td>
            <td>{{ percent(each.share, 0) }}</td>
            <td>{{ decimal(each.over_documents) }}</td>
            <td v-if="found.by">{{ decimal(each.over_groups ?? 0) }}</td>
            <td v-if="found.fit">{{ decimal(each.over_topics ?? 0) }}</td>
            <td>
              <LeaveButton :word="each.word" :gone="gone(each.word)" />
            </td>
          </tr>
        </tbody>
      </table>
      <p v-else class="soft">No word stands in a tenth of the documents.</p>
      <button v-if="found.common.length > SHOWN" class="plain link small" @click="more = !more">
        {{ more ? 'fewer' : `all ${found.common.length}` }}
      </button>
    </template>
  </section>
</template>

<style scoped>
table {
  width: 100%;
}
td,
th {
  border-bottom: 1px solid var(--hairline);
  padding: 0.16rem 0.5rem 0.16rem 0;
  text-align: right;
  font-weight: 400;
  white-space: nowrap;
}
td:first-child,
th:first-child {
  text-align: left;
  white-space: normal;
  overflow-wrap: anywhere;
}
.gone td:first-child {
  text-decoration: line-through;
  color: var(--struck);
}
.selected {
  background: var(--woad-wash);
}
.selected.gone td:first-child {
  color: var(--madder);
}
</style>
