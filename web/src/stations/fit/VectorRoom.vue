<script setup lang="ts">
import { useMutation } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { computed, ref } from 'vue'

import { ask, client } from '@/api/client'
import { strandPath, useStrand, useStrandQuery } from '@/api/strand'
import { useTopics } from '@/api/topics'
import Waiting from '@/frame/Waiting.vue'
import { useEvidence } from '@/frame/evidence'
import Swatch from '@/marks/Swatch.vue'
import { count, counted, decimal, percent } from '@/marks/format'

import ReachPanel from './ReachPanel.vue'

/** Topics among document vectors: how far they reach, and documents of which there is a vector alone. */
const { id, ply } = useStrand()
const { label, dye } = useTopics()
const { read } = useEvidence()
const query = useStrandQuery(
  'by vector',
  () => [ply('fit')?.identity, ply('document_vectors')?.identity],
  (strand) => ask(client.GET('/api/strands/{strand_id}/by-vector', { params: strandPath(strand) })),
  () => !!ply('fit')?.identity,
)
const found = computed(() => query.data.value)
const vector = ref('')
const place = useMutation({
  mutationFn: () =>
    ask(
      client.POST('/api/strands/{strand_id}/by-vector/placed', {
        params: strandPath(id.value),
        body: { vector: vector.value },
      }),
    ),
})
</script>

<template>
  <p v-if="!ply('fit')?.identity" class="soft">There is no fit yet. Make one first.</p>
  <p v-else-if="query.error.value" class="notice">{{ query.error.value.message }}</p>
  <Waiting v-else-if="!found" what="Looking at the vectors" />
  <div v-else class="vectors">
    <ReachPanel v-if="found.reach" />
    <section>
      <h2>Documents by their vector alone</h2>
      <p class="small soft">{{ found.says }}.</p>
      <p v-if="found.agrees !== null">
        The nearest middle is the topic that leads in the words for <b class="numbers">{{ percent(found.agrees) }}</b>{{
          ' '
        }}<span class="soft small">{{ found.agrees_says }}</span>
      </p>
      <p v-else class="soft small">How far that agrees with words can’t be said: {{ found.agrees_says }}.</p>
      <p v-if="!found.only" class="soft">Every document that has a vector has counted words too.</p>
      <template v-else>
        <p>
          {{ counted(found.only, 'document') }} {{ found.only === 1 ? 'has' : 'have' }} a vector and no counted
          word<span v-if="found.only > found.rows.length">; the first {{ count(found.rows.length) }}</span
          >:
        </p>
        <ol>
          <li v-for="each in found.rows" :key="each.document">
            <button class="plain link" @click="read(each.document)">{{ each.name }}</button>
            <span class="soft small cut">{{ each.brief }}</span>
            <span v-for="near in each.topics" :key="near.topic" class="small">
              <Swatch :dye="dye(near.topic)" /> {{ label(near.topic) }}
              <span class="numbers">{{ decimal(near.cosine) }}</span>
            </span>
          </li>
        </ol>
      </template>
      <form class="row wrap small" @submit.prevent="place.mutate()">
        <textarea
          v-model="vector"
          rows="2"
          required
          aria-label="Vector"
          placeholder="numbers, apart by commas or spaces" />
        <Button
          type="submit"
          size="small"
          severity="secondary"
          label="Place a vector"
          :loading="place.isPending.value" />
      </form>
      <p v-if="place.error.value" class="notice bad">{{ place.error.value.message }}</p>
      <ol v-else-if="place.data.value">
        <li v-for="near in place.data.value.topics.slice(0, 8)" :key="near.topic" class="placed">
          <Swatch :dye="dye(near.topic)" /> {{ label(near.topic) }}
          <span class="numbers">{{ decimal(near.cosine) }}</span>
        </li>
      </ol>
    </section>
  </div>
</template>

<style scoped>
.vectors {
  display: grid;
  gap: 1.2rem;
}
ol {
  list-style: none;
  padding: 0;
  margin: 0;
}
li {
  display: flex;
  flex-wrap: wrap;
  gap: 0.2rem 1rem;
  padding: 0.2rem 0;
  border-bottom: 1px solid var(--line);
}
textarea {
  width: 26rem;
  max-width: 100%;
}
</style>
