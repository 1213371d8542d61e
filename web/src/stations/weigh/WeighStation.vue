<script setup lang="ts">
import { computed, ref, watch } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { strandPath, useStrand, useStrandQuery, useWanted } from '@/api/strand'
import StaleNotice from '@/frame/StaleNotice.vue'
import Waiting from '@/frame/Waiting.vue'
import { useAddress } from '@/frame/address'
import { useEvidence } from '@/frame/evidence'
import { useLeaveOut } from '@/frame/leaving'
import { count, counted, percent } from '@/marks/format'

import TopTerms from './TopTerms.vue'
import VocabularyTable from './VocabularyTable.vue'

const { strand, ply, made } = useStrand()
const { wanted, change } = useWanted()
const { get, set } = useAddress()
const { select } = useEvidence()
const scheme = computed(() => get('scheme', 'counts') as 'counts' | 'tf-idf')
const weigh = computed(() => wanted.value?.weigh)
const top = useStrandQuery(
  'top terms',
  () => [strand.value?.wanted.clean, strand.value?.wanted.weigh, scheme.value],
  (id) =>
    ask(
      client.GET('/api/strands/{strand_id}/vocabulary', {
        params: { ...strandPath(id), query: { scheme: scheme.value, sort: '-weight', limit: 25 } },
      }),
    ),
  () => !!ply('cleaning')?.identity,
)
const found = computed(() => top.data.value)
const summary = computed(() => found.value?.summary)
const stale = computed(() => ply('cleaning')?.state === 'stale' || ply('matrix')?.state === 'stale')
const least = ref(5)
watch(
  () => weigh.value?.min_documents,
  (value) => value && (least.value = value),
  { immediate: true },
)
function setWeigh(part: Partial<Schemas['MatrixSettings']>) {
  if (weigh.value) change({ weigh: { ...weigh.value, ...part } })
}
let timer: ReturnType<typeof setTimeout> | undefined
function slide(event: Event) {
  least.value = Math.max(1, Math.round(Number((event.target as HTMLInputElement).value)))
  clearTimeout(timer)
  timer = setTimeout(() => setWeigh({ min_documents: least.value }), 180)
}
const number = (event: Event) => Number((event.target as HTMLInputElement).value)

const { leaveTermOut } = useLeaveOut()
</script>

<template>
  <div class="station weigh">
    <p v-if="top.error.value" class="notice bad">{{ top.error.value.message }}</p>
    <template v-if="summary && weigh">
      <div class="row wrap spread">
        <h1>Vocabulary</h1>
        <dl class="row wrap numbers">
          <div>
            <dt>terms</dt>
            <dd>
              {{ count(summary.terms) }} <small>of {{ count(summary.all_terms) }}</small>
            </dd>
          </div>
          <div>
            <dt>non-zeros</dt>
            <dd>{{ count(summary.nonzero) }}</dd>
          </div>
          <div>
            <dt>sparsity</dt>
            <dd>{{ percent(summary.sparsity) }}</dd>
          </div>
          <div>
            <dt>emptied</dt>
            <dd>
              <button class="plain link" :disabled="stale || !summary.emptied" @click="select({ flag: 'emptied' })">
                {{ counted(summary.emptied, 'document') }}
              </button>
            </dd>
          </div>
        </dl>
      </div>
      <StaleNotice :steps="['corpus', 'cleaning', 'matrix']"
        >Labels follow the matched topics as suggestions.</StaleNotice
      >
      <p v-if="!summary.terms" class="notice bad">
        No term is left. Lower the minimum number of documents, raise the largest share, or switch off passes in Clean.
      </p>
      <p v-if="summary.sample" class="notice">
        Figures from a sample of {{ count(summary.sample) }} documents; rebuild for all.
      </p>
      <div class="settings">
        <label>
          words in a term, up to
          <select :value="weigh.longest" aria-label="Longest n-gram" @change="setWeigh({ longest: number($event) })">
            <option v-for="n in 4" :key="n" :value="n">{{ n }}</option>
          </select>
        </label>
        <label v-if="(weigh.longest ?? 1) > 1"
          ><input
            type="checkbox"
            :checked="weigh.bridge"
            @change="setWeigh({ bridge: ($event.target as HTMLInputElement).checked })" />
          over removed words too</label
        >
        <label class="slider">
          <span
            >in at least <b class="numbers">{{ least }}</b> documents</span
          >
          <input
            type="range"
            min="1"
            max="100"
            :value="least"
            aria-label="In at least so many documents"
            @input="slide" />
          <small class="soft">suggested {{ summary.suggestion }}</small>
        </label>
        <label>
          in at most
          <input
            type="number"
            min="1"
            max="100"
            :value="Math.round(100 * (weigh.max_share ?? 1))"
            @change="setWeigh({ max_share: Math.min(1, Math.max(0.01, number($event) / 100)) })" />
          % of them
        </label>
        <label>
          at most
          <input
            type="number"
            min="1"
            placeholder="all"
            :value="weigh.keep_top"
            @change="setWeigh({ keep_top: number($event) || null })" />
          terms
        </label>
      </div>
      <div class="row wrap">
        <span role="group" aria-label="Weighting">
          <button
            v-for="each in ['counts', 'tf-idf']"
            :key="each"
            class="plain mode"
            :aria-pressed="scheme === each"
            @click="set({ scheme: each === 'counts' ? '' : each })">
            {{ each }}
          </button>
        </span>
        <span class="soft book">{{ summary.formula }}</span>
      </div>
      <div class="two">
        <TopTerms :rows="found?.rows ?? []" :scheme="scheme" @leave="leaveTermOut" />
        <VocabularyTable :scheme="scheme" @leave="leaveTermOut" />
      </div>
    </template>
    <template v-else-if="ply('cleaning')?.identity && !top.error.value">
      <h1>Vocabulary</h1>
      <Waiting :what="`Counting the terms of ${counted(made.corpus?.documents ?? 0, 'document')}`" />
    </template>
    <p v-else-if="strand && !ply('cleaning')?.identity" class="soft">
      Nothing has been cleaned yet. Bring documents in at Gather first.
    </p>
  </div>
</template>

<style scoped>
.weigh {
  display: grid;
  gap: 0.9rem;
  align-content: start;
}
dl {
  margin: 0;
  gap: 1.6rem;
}
dt {
  font-size: 0.8rem;
  color: var(--soft);
}
dd {
  margin: 0;
  font-family: var(--heading);
  font-size: 1.25rem;
}
dd small {
  font-size: 0.85rem;
  color: var(--soft);
}
.settings {
  display: flex;
  flex-wrap: wrap;
  gap: 0.6rem 2rem;
  align-items: start;
}
.settings input[type='number'] {
  width: 4.6rem;
}
.slider {
  display: grid;
  width: 21rem;
}
.two {
  grid-template-columns: minmax(0, 5fr) minmax(0, 7fr);
}
.link:not(:disabled) {
  color: var(--woad);
  text-decoration: underline;
}
input[type='range'] {
  accent-color: var(--woad);
}
</style>
