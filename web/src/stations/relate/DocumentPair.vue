<script setup lang="ts">
import { ask, client } from '@/api/client'
import { strandPath, useStrand, useStrandQuery } from '@/api/strand'
import { useEvidence } from '@/frame/evidence'
import Waiting from '@/frame/Waiting.vue'
import WorkingLines from '@/marks/WorkingLines.vue'
import { counted, decimal } from '@/marks/format'

/** What makes two documents alike: the terms that both have, and what each adds. */
const props = defineProps<{ one: number; other: number }>()
defineEmits<{ document: [number] }>()
const { ply } = useStrand()
const { select } = useEvidence()
const { data, error } = useStrandQuery(
  'pair of documents',
  () => [ply('document_vectors')?.identity, props.one, props.other],
  (id) =>
    ask(
      client.GET('/api/strands/{strand_id}/relate/alike/documents/{document}/{other}', {
        params: { path: { ...strandPath(id).path, document: props.one, other: props.other } },
      }),
    ),
)
</script>

<template>
  <section v-if="data" class="pair">
    <h2>{{ data.one }} and {{ data.other }}</h2>
    <p class="small soft">
      {{ counted(data.shared_terms, 'term') }} in both.
      <button class="plain link" @click="$emit('document', other)">alike {{ data.other }}</button>
    </p>
    <p class="row wrap book terms">
      <button v-for="each in data.shared" :key="each.term" class="plain" @click="select({ term: each.term })">
        {{ each.display }} <small class="soft numbers">{{ decimal(each.adds, 3) }}</small>
      </button>
    </p>
    <WorkingLines :lines="data.lines" />
  </section>
  <p v-else-if="error" class="notice bad">{{ error.message }}</p>
  <Waiting v-else what="Looking at what they share" />
</template>

<style scoped>
.pair {
  display: grid;
  gap: 0.4rem;
  align-content: start;
}
p {
  margin: 0;
}
.terms {
  gap: 0.1rem 0.9rem;
}
.terms button {
  min-height: 24px;
}
.terms button:hover {
  color: var(--woad);
  text-decoration: underline;
}
</style>
