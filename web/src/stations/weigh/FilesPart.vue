<script setup lang="ts">
import { computed } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { strandPath, useStrand, useStrandQuery } from '@/api/strand'
import { useAddress } from '@/frame/address'
import Waiting from '@/frame/Waiting.vue'
import { useEvidence } from '@/frame/evidence'
import { count, counted, percent, size } from '@/marks/format'

import type { Trying } from './trying'

/** Which documents are held out, and the matrix as files. */
const props = defineProps<{ trying: Trying }>()
const { id, strand, ply } = useStrand()
const { get, set } = useAddress()
const { select } = useEvidence()
type Split = Schemas['Split']
const split = computed(() => props.trying.settings.value?.split ?? null)
const shown = useStrandQuery(
  'split',
  () => [strand.value?.wanted.clean, split.value],
  (strandId) => ask(client.GET('/api/strands/{strand_id}/matrix/split', { params: strandPath(strandId) })),
  () => !!ply('cleaning')?.identity,
)
const parts = computed(() => shown.data.value)
const outcome = computed(() => get('outcome') || split.value?.outcome || '')
const files = useStrandQuery(
  'matrix files',
  () => [ply('matrix')?.identity, strand.value?.wanted.weighting, outcome.value],
  (strandId) =>
    ask(
      client.GET('/api/strands/{strand_id}/matrix/files', {
        params: { ...strandPath(strandId), query: { outcome: outcome.value || undefined } },
      }),
    ),
  () => !!ply('matrix')?.identity,
)
const offered = computed(() => files.data.value)
function put(part: Partial<Split> | null) {
  const settings = props.trying.settings.value
  if (!settings) return
  const next =
    part === null ? null : { share: 0.2, seed: 1, count: null, outcome: null, together: null, ...split.value, ...part }
  props.trying.want({ ...settings, split: next as Split })
}
const text = (event: Event) => (event.target as HTMLInputElement).value
function sized(value: number, unit: string) {
  if (!(value > 0)) return
  put(
    unit === '%'
      ? { share: Math.min(0.99, value / 100), count: null }
      : { share: null, count: Math.max(1, Math.round(value)) },
  )
}
const address = (name: string) =>
  `/api/strands/${id.value}/matrix/files/${name}${outcome.value ? `?outcome=${encodeURIComponent(outcome.value)}` : ''}`
const known = computed(() => (parts.value?.by_value ?? []).some((each) => each.value !== null))
</script>

<template>
  <div class="files">
    <section aria-label="Split">
      <div class="row wrap ledger-head">
        <h2>Split</h2>
        <label
          ><input
            type="checkbox"
            :checked="!!split"
            @change="put(($event.target as HTMLInputElement).checked ? {} : null)" />
          hold documents out for a test</label
        >
        <template v-if="split">
          <label
            ><input
              type="number"
              min="1"
              :value="split.share ? Number((100 * split.share).toFixed(2)) : split.count"
              aria-label="How much is held out"
              @change="sized(Number(text($event)), split!.share ? '%' : 'documents')" />
            <select
              :value="split.share ? '%' : 'documents'"
              aria-label="Percent or documents"
              @change="sized(text($event) === '%' ? 20 : (parts?.test ?? 1), text($event))">
              <option value="%">%</option>
              <option value="documents">documents</option>
            </select></label
          >
          <label
            >alike in
            <select :value="split.outcome ?? ''" aria-label="Outcome" @change="put({ outcome: text($event) || null })">
              <option value="">nothing</option>
              <option v-for="name in parts?.fields ?? []" :key="name">{{ name }}</option>
            </select></label
          >
          <label
            >not parted:
            <select
              :value="split.together ?? ''"
              aria-label="Field that is not parted"
              @change="put({ together: text($event) || null })">
              <option value="">near-repeats</option>
              <option v-for="name in parts?.units ?? []" :key="name" :value="name">those and {{ name }}</option>
            </select></label
          >
          <label
            >seed
            <input
              type="number"
              min="0"
              class="seed"
              :value="split.seed"
              aria-label="Seed of the split"
              @change="put({ seed: Math.max(0, Math.round(Number(text($event)) || 0)) })"
          /></label>
        </template>
      </div>
      <p v-if="shown.error.value" class="notice bad">{{ shown.error.value.message }}</p>
      <p v-else-if="split && parts" class="small said">
        Pruning and weights learn from {{ counted(parts.training, 'training document') }} alone; the
        {{ count(parts.test) }} others are weighed by that, and Fit and Choose hold out the same ones.
        <template v-if="parts.pairs"
          >{{ counted(parts.pairs, 'pair') }} of documents that nearly repeat each other
          {{ parts.pairs === 1 ? 'stays' : 'stay' }} on one side.</template
        >
      </p>
      <p v-else class="small soft said">Nothing is held out: pruning and weights learn from every document.</p>
      <table v-if="split?.outcome && parts && known" class="ledger small by">
        <thead class="soft">
          <tr>
            <th>{{ split.outcome }}</th>
            <th class="numbers">training</th>
            <th class="numbers">test</th>
            <th class="numbers">held out</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="each in parts.by_value" :key="String(each.value)">
            <td>
              <button class="plain" @click="select({ field: split!.outcome!, value: each.value ?? undefined })">
                {{ each.value ?? 'not given' }}
              </button>
            </td>
            <td class="numbers">{{ count(each.training) }}</td>
            <td class="numbers">{{ count(each.test) }}</td>
            <td class="numbers">{{ percent(each.test / Math.max(1, each.test + each.training)) }}</td>
          </tr>
        </tbody>
      </table>
      <p v-if="parts?.more_values" class="soft small">and {{ counted(parts.more_values, 'value') }} more</p>
    </section>
    <section aria-label="Files of the matrix">
      <div class="row wrap ledger-head">
        <h2>Files</h2>
        <label class="small"
          >outcome
          <select :value="outcome" aria-label="Outcome of the files" @change="set({ outcome: text($event) })">
            <option value="">none</option>
            <option v-for="name in parts?.fields ?? []" :key="name">{{ name }}</option>
          </select></label
        >
        <span v-if="offered" class="soft small"
          >the matrix as it was made, {{ offered.weighting }}: {{ count(offered.documents) }} ×
          {{ count(offered.terms) }}, {{ count(offered.nonzero) }} that are not zero</span
        >
      </div>
      <p v-if="files.error.value" class="notice bad">{{ files.error.value.message }}</p>
      <Waiting v-else-if="!offered && ply('matrix')?.identity" what="Measuring the files" />
      <p v-else-if="!offered" class="soft">There is no matrix yet. Rebuild first.</p>
      <table v-else class="ledger">
        <tbody>
          <tr v-for="each in offered.files" :key="each.name">
            <td>
              <a v-if="!each.refused" :href="address(each.name)" download>{{ each.name }}</a>
              <span v-else class="soft">{{ each.name }}</span>
            </td>
            <td class="numbers small">
              {{ each.bytes === null ? '' : `${each.estimated ? 'about ' : ''}${size(each.bytes)}` }}
            </td>
            <td class="small" :class="{ loss: each.refused }">{{ each.refused || each.what }}</td>
          </tr>
        </tbody>
      </table>
    </section>
  </div>
</template>

<style scoped>
.files {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 1.4rem;
}
.said {
  margin: 0.3rem 0;
}
.by {
  width: auto;
  min-width: 26rem;
}
.seed {
  width: 5rem;
}
td:first-child {
  white-space: nowrap;
}
td.numbers {
  white-space: nowrap;
}
</style>
