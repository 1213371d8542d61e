<script setup lang="ts">
import { ask, client } from '@/api/client'
import { strandPath, useStrand, useStrandQuery } from '@/api/strand'
import Waiting from '@/frame/Waiting.vue'
import { useEvidence } from '@/frame/evidence'
import WorkingLines from '@/marks/WorkingLines.vue'
import { count, decimal } from '@/marks/format'

/** How a figure of the fit came about: a topic's share of a document, a word's weight in it, or its likelihood. */
const props = defineProps<{
  of: 'likelihood' | { topic: number; document: number } | { topic: number; term: string }
}>()
const { ply } = useStrand()
const { select } = useEvidence()
const working = useStrandQuery(
  'working of a fit',
  () => [ply('fit')?.identity, props.of],
  (id) => {
    if (props.of === 'likelihood')
      return ask(client.GET('/api/strands/{strand_id}/fit-working', { params: strandPath(id) }))
    const path = { strand_id: id, topic: props.of.topic }
    return 'term' in props.of
      ? ask(
          client.GET('/api/strands/{strand_id}/topics/{topic}/working/word', {
            params: { path, query: { term: props.of.term } },
          }),
        )
      : ask(
          client.GET('/api/strands/{strand_id}/topics/{topic}/working/share', {
            params: { path, query: { document: props.of.document } },
          }),
        )
  },
)
</script>

<template>
  <section class="card worked" aria-label="Worked out">
    <template v-if="working.data.value">
      <h3>{{ working.data.value.title }}</h3>
      <WorkingLines :lines="working.data.value.lines" />
      <p v-if="working.data.value.words.length" class="book words">
        <button
          v-for="word in working.data.value.words"
          :key="word.term"
          class="plain"
          @click="select({ term: word.term })">
          {{ word.display }}
          <small class="soft numbers">{{ decimal(word.tokens, 1) }} of {{ count(word.n) }}</small>
        </button>
      </p>
      <p v-if="working.data.value.note" class="soft small">{{ working.data.value.note }}</p>
    </template>
    <p v-else-if="working.error.value" class="notice bad">{{ working.error.value.message }}</p>
    <Waiting v-else what="Working it out" />
  </section>
</template>

<style scoped>
.worked p {
  margin: 0.2rem 0;
}
.words {
  display: flex;
  flex-wrap: wrap;
  gap: 0.1rem 1rem;
}
.words button {
  min-height: 24px;
}
</style>
