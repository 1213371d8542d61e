<script setup lang="ts">
import { ask, client, type Topic } from '@/api/client'
import { strandPath, useStrandQuery } from '@/api/strand'
import { useEvidence } from '@/frame/evidence'
import PassageText from '@/marks/PassageText.vue'

/** Where a topic stands out most, beside its words. */
const props = defineProps<{ topic: Topic }>()
const { read } = useEvidence()
const SHOWN = 4
const evidence = useStrandQuery(
  'passages',
  () => props.topic.topic,
  (strand) =>
    ask(
      client.GET('/api/strands/{strand_id}/evidence', {
        params: { ...strandPath(strand), query: { topic: props.topic.topic, limit: SHOWN } },
      }),
    ),
)
</script>

<template>
  <div v-if="evidence.data.value" :class="{ waiting: evidence.isPlaceholderData.value }">
    <h2>Strongest passages</h2>
    <div class="passages">
      <button
        v-for="(piece, at) in evidence.data.value.pieces"
        :key="piece.document"
        class="plain strong"
        @click="read(piece.document, at)">
        <span class="clamp"><PassageText :pieces="piece.passage" :dye="topic.dye" /></span>
        <span class="soft small cut">{{ piece.brief }} · {{ piece.score }}</span>
      </button>
    </div>
  </div>
</template>

<style scoped>
.passages {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(15rem, 1fr));
  gap: 0.6rem 1.4rem;
  margin-top: 0.4rem;
}
.strong {
  border-left: 2px solid var(--hairline);
  padding-left: 0.7rem;
  display: block;
}
.strong:hover {
  border-color: var(--woad);
}
.clamp {
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 4;
  line-clamp: 4;
  overflow: hidden;
}
.strong > .cut {
  display: block;
}
.waiting {
  opacity: 0.7;
}
</style>
