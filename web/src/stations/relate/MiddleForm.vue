<script setup lang="ts">
import { computed } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { strandPath, useStrandQuery } from '@/api/strand'
import { useAddress } from '@/frame/address'
import { useEvidence } from '@/frame/evidence'
import { count, counted, percent } from '@/marks/format'

import { text } from './beside'

/** What lies near the middle of the documents that are selected. */
const props = defineProps<{ identity: string }>()
const { get, set } = useAddress()
const { request, text: selected, select } = useEvidence()
const first = computed(() => Number(get('first')) || 20)
const falling = computed<Schemas['Middle']['request']['centre_weights']>(() =>
  get('falling') === 'falling' ? 'falling' : 'equal',
)
const able = computed(() => !!selected.value && !request.value?.centre)
const query = useStrandQuery(
  'middle',
  () => [props.identity, selected.value, first.value, falling.value],
  (id) =>
    ask(
      client.GET('/api/strands/{strand_id}/relate/alike/middle', {
        params: {
          ...strandPath(id),
          query: { ...request.value, first: first.value, falling: falling.value },
        },
      }),
    ),
  able,
)
const found = computed(() => (able.value && !query.isPlaceholderData.value ? query.data.value : undefined))
</script>

<template>
  <section>
    <h2>Near the middle of some</h2>
    <p class="row wrap small">
      <label
        >the first
        <input
          type="number"
          min="1"
          max="200"
          :value="first"
          aria-label="First documents"
          @change="set({ first: text($event) })" />
        of the evidence</label
      >
      <label
        >each weighs
        <select :value="falling" aria-label="What each weighs" @change="set({ falling: text($event) })">
          <option value="equal">alike</option>
          <option value="falling">less by rank: 1, ½, ⅓ …</option>
        </select></label
      >
      <template v-if="found">
        <button
          class="plain link"
          @click="select({ centre: found.request.centre ?? undefined, centre_weights: found.request.centre_weights })">
          the nearest to the middle of {{ found.title }}
        </button>
        <span class="soft"
          >{{ counted(found.documents.length, 'document') }} of {{ count(found.total) }}; the first weighs
          {{ percent(found.weights[0]) }}, the last {{ percent(found.weights[found.weights.length - 1]) }}</span
        >
      </template>
      <span v-else-if="able && query.error.value" class="loss">{{ query.error.value.message }}</span>
      <span v-else class="soft">{{
        request?.centre
          ? 'What is nearest to the middle is in the evidence.'
          : 'Select some documents anywhere: a topic, a group, an area of the map.'
      }}</span>
    </p>
  </section>
</template>

<style scoped>
section {
  border-top: 1px solid var(--soft);
  padding-top: 0.5rem;
}
input {
  width: 4.5rem;
}
</style>
