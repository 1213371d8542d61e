<script setup lang="ts">
import { ref, watch } from 'vue'

import { ask, client } from '@/api/client'
import { strandPath, useStrand, useStrandQuery } from '@/api/strand'
import Waiting from '@/frame/Waiting.vue'
import { count, decimal } from '@/marks/format'

/** The items nearest to one; each distance opens to its working. */
const props = defineProps<{ place: number }>()
const { ply } = useStrand()
const other = ref<number>()
watch(
  () => props.place,
  () => (other.value = undefined),
)
const near = useStrandQuery(
  'neighbours',
  () => [ply('tree')?.identity, props.place],
  (id) =>
    ask(
      client.GET('/api/strands/{strand_id}/relate/tree/items/{place}', {
        params: { path: { ...strandPath(id).path, place: props.place } },
      }),
    ),
)
const pair = useStrandQuery(
  'distance',
  () => [ply('tree')?.identity, props.place, other.value],
  (id) =>
    ask(
      client.GET('/api/strands/{strand_id}/relate/tree/items/{place}/{other}', {
        params: { path: { ...strandPath(id).path, place: props.place, other: other.value ?? 0 } },
      }),
    ),
  () => other.value !== undefined,
)
</script>

<template>
  <section v-if="near.data.value" class="near">
    <h2>Nearest to {{ near.data.value.label }}</h2>
    <p class="row wrap items">
      <button
        v-for="each in near.data.value.nearest"
        :key="each.place"
        class="plain"
        :aria-pressed="other === each.place"
        @click="other = each.place">
        <span class="book">{{ each.label }}</span> <small class="soft numbers">{{ decimal(each.distance) }}</small>
      </button>
    </p>
    <p v-if="other !== undefined && pair.data.value" class="small">
      <b>{{ pair.data.value.one }} and {{ pair.data.value.other }}</b
      >: {{ pair.data.value.line.name }} {{ decimal(pair.data.value.line.value, 4) }} =
      {{ pair.data.value.line.formula }} = {{ pair.data.value.line.numbers }}. Both stand in
      {{ count(pair.data.value.shared) }} of the {{ count(pair.data.value.either) }} that have either.
    </p>
    <p v-else class="small soft">A distance opens to its working.</p>
  </section>
  <Waiting v-else what="Measuring" />
</template>

<style scoped>
.near {
  border-top: 1px solid var(--soft);
  padding-top: 0.5rem;
  display: grid;
  gap: 0.4rem;
}
.items {
  gap: 0.1rem 0.9rem;
}
.items button {
  min-height: 24px;
}
.items button:hover,
.items [aria-pressed='true'] {
  color: var(--woad);
  text-decoration: underline;
}
p {
  margin: 0;
}
</style>
