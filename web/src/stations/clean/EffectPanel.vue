<script setup lang="ts">
import { computed, ref } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { useStrand, useStrandQuery } from '@/api/strand'
import { useEvidence } from '@/frame/evidence'
import Waiting from '@/frame/Waiting.vue'
import { count, counted, percent } from '@/marks/format'

/** What one pass does: the words that it removes and changes, and what groups keep after it. */
const props = defineProps<{ pass: string }>()
defineEmits<{ trace: [string] }>()
const { strand } = useStrand()
const { select, isSelected } = useEvidence()
const by = ref('')
const effect = useStrandQuery(
  'effect',
  () => [props.pass, by.value, strand.value?.wanted.clean],
  (id) =>
    ask(
      client.GET('/api/strands/{strand_id}/survivors/{key}', {
        params: { path: { strand_id: id, key: props.pass }, query: { by: by.value } },
      }),
    ),
)
const found = computed(() => effect.data.value)
const SHOWN = 14
const more = ref(false)
const shown = (words: Schemas['WordGone'][]) => (more.value ? words : words.slice(0, SHOWN))
const of = (tokens: number, before: number) => percent(tokens / Math.max(before, 1), 0)
</script>

<template>
  <div>
    <h2>{{ found?.title ?? 'This pass' }}, word by word</h2>
    <p v-if="effect.error.value" class="notice bad">{{ effect.error.value.message }}</p>
    <Waiting v-else-if="!found" what="Counting what this pass does" />
    <template v-else>
      <p class="soft small">
        removes {{ counted(found.n_removed, 'word') }}, changes {{ counted(found.n_changed, 'word')
        }}{{ found.sample ? `, in a sample of ${count(found.sample)} documents` : '' }}
      </p>
      <table v-if="found.removed.length || found.changed.length" class="words">
        <tbody>
          <tr
            v-for="row in [...shown(found.removed), ...shown(found.changed)]"
            :key="`${row.word}|${row.form}`"
            :class="{ selected: isSelected({ word: row.written }) }">
            <td class="book">
              <button class="plain" @click="select({ word: row.written })">
                <s v-if="row.form === null">{{ row.word }}</s>
                <template v-else
                  >{{ row.word }} → <span class="form">{{ row.form }}</span></template
                >
              </button>
            </td>
            <td class="soft small cut why">{{ row.why }}</td>
            <td class="numbers">{{ count(row.tokens) }}</td>
            <td class="numbers soft small" :title="`in ${counted(row.documents, 'document')}`">
              {{ count(row.documents) }} docs
            </td>
          </tr>
        </tbody>
      </table>
      <p v-else class="soft">It finds nothing to do in this corpus.</p>
      <button
        v-if="found.removed.length > SHOWN || found.changed.length > SHOWN"
        class="plain link small"
        @click="more = !more">
        {{ more ? 'fewer' : `more of the most frequent` }}
      </button>
      <template v-if="found.by">
        <h3 class="groups">
          After it, by
          <select :value="found.by" aria-label="Group" @change="by = ($event.target as HTMLSelectElement).value">
            <option v-for="field in found.fields" :key="field">{{ field }}</option>
          </select>
        </h3>
        <table class="words">
          <thead class="soft small">
            <tr>
              <th>group</th>
              <th>documents</th>
              <th>left</th>
              <th>words</th>
              <th>emptied</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="group in found.groups" :key="group.group" class="numbers">
              <td class="cut name">{{ group.group }}</td>
              <td>{{ count(group.documents) }}</td>
              <td>
                {{ count(group.tokens) }} <small class="soft">{{ of(group.tokens, group.before) }}</small>
              </td>
              <td>{{ count(group.types) }}</td>
              <td>{{ count(group.emptied) }}</td>
            </tr>
          </tbody>
        </table>
      </template>
    </template>
  </div>
</template>

<style scoped>
.words {
  width: 100%;
}
td,
th {
  border-bottom: 1px solid var(--hairline);
  padding: 0.16rem 0.6rem 0.16rem 0;
  text-align: left;
  font-weight: 400;
  white-space: nowrap;
}
td.numbers,
tr.numbers td:not(.name),
th:not(:first-child) {
  text-align: right;
}
.form {
  color: var(--woad);
}
.why,
.name {
  max-width: 8rem;
}
.selected {
  background: var(--woad-wash);
}
.selected s {
  color: var(--madder);
}
.groups {
  margin-top: 0.8rem;
}
</style>
