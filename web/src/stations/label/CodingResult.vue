<script setup lang="ts">
import { computed } from 'vue'

import { useTopics } from '@/api/topics'
import { useEvidence } from '@/frame/evidence'
import Swatch from '@/marks/Swatch.vue'
import { count, decimal, percent } from '@/marks/format'

import type { Check } from './checks'

/** Precision and recall of a topic for a concept, and what was coded of each share of it. */
const props = defineProps<{ check: Check }>()
const { label, dye } = useTopics()
const { select } = useEvidence()
const EDGES = [0, 1e-9, 0.1, 0.3, 0.6]
const topic = computed(() => props.check.topic ?? 0)
const rates = computed(() => [
  ['precision', 'of documents with 10 % or more of the topic, those about it', props.check.result.precision] as const,
  ['recall', 'of documents about it, those with 10 % or more of the topic', props.check.result.recall] as const,
])
const evidence = (at: number) => ({
  share_of: topic.value,
  share_from: EDGES[at],
  share_to: EDGES[at + 1] ?? 1,
})
</script>

<template>
  <div class="coding">
    <p v-for="[name, what, rate] in rates" :key="name">
      <b>{{ name }}</b>
      <template v-if="rate?.value !== null && rate?.value !== undefined">
        {{ percent(rate.value, 0) }}
        <span class="soft">{{ percent(rate.low ?? 0, 0) }} to {{ percent(rate.high ?? 1, 0) }}</span>
      </template>
      <span v-else class="soft">not known: every share needs a coded document</span>
      <small class="soft"> {{ what }}</small>
    </p>
    <table class="ledger small">
      <thead class="soft">
        <tr>
          <th>share of <Swatch :dye="dye(topic)" :size="12" class="inline" /> {{ label(topic) }}</th>
          <th class="numbers">documents</th>
          <th class="numbers">coded</th>
          <th class="numbers">about {{ check.concept }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(stratum, at) in check.result.strata" :key="stratum.name">
          <td>
            <button class="plain" @click="select(evidence(at))">{{ stratum.name }}</button>
          </td>
          <td class="numbers">{{ count(stratum.documents) }}</td>
          <td class="numbers">{{ count(stratum.coded) }}</td>
          <td class="numbers">
            {{ decimal(stratum.yes, stratum.yes % 1 ? 1 : 0) }}
            <span v-if="stratum.coded" class="soft">{{ percent(stratum.yes / stratum.coded, 0) }}</span>
          </td>
        </tr>
      </tbody>
    </table>
    <p class="soft small">
      Documents of a share that was coded stand for all of it. Track shows prevalence corrected by this coding, where it
      has been done for every share.
    </p>
  </div>
</template>

<style scoped>
.coding p > * + * {
  margin-left: 0.5rem;
}
.coding td span {
  margin-left: 0.4rem;
}
.coding p {
  margin: 0.15rem 0;
}
.inline {
  display: inline-block;
  vertical-align: -1px;
}
table {
  width: auto;
}
</style>
