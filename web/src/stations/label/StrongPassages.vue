<script setup lang="ts">
import { computed, ref } from 'vue'

import type { Topic } from '@/api/client'
import { useEvidence } from '@/frame/evidence'
import PassageText from '@/marks/PassageText.vue'
import { decimal } from '@/marks/format'

import { usePassages, type Passages } from './label'

/** Where a topic speaks most clearly: its strongest sentences or paragraphs, out of several documents. */
const props = defineProps<{ topic: Topic }>()
const { read } = useEvidence()
const of = ref<Passages>('sentences')
const query = usePassages(() => props.topic.topic, of, 8)
const found = computed(() => query.data.value)
</script>

<template>
  <div v-if="found" :class="{ waiting: query.isPlaceholderData.value }">
    <div class="row wrap">
      <h2>Strongest passages</h2>
      <span class="small" role="group" aria-label="Passages are">
        <button
          v-for="each in ['sentences', 'paragraphs'] as const"
          :key="each"
          class="plain mode"
          :aria-pressed="of === each"
          @click="of = each">
          {{ each }}
        </button>
      </span>
      <RouterLink :to="{ path: 'fit', query: { part: 'topics', ev: `topic=${topic.topic}` } }" class="small"
        >all documents, typical ones, border ones</RouterLink
      >
    </div>
    <div class="passages">
      <button
        v-for="piece in found.passages"
        :key="`${piece.document} ${piece.passage[0]?.text}`"
        class="plain strong"
        @click="read(piece.document)">
        <span class="clamp"><PassageText :pieces="piece.passage" :dye="topic.dye" /></span>
        <span class="soft small cut"
          >{{ piece.name }} · {{ piece.brief }} · {{ decimal(piece.tokens, 1) }} of {{ piece.counted }} words</span
        >
      </button>
    </div>
    <p class="soft small">{{ found.says }}</p>
  </div>
</template>

<style scoped>
.passages {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(15rem, 1fr));
  gap: 0.6rem 1.4rem;
  margin: 0.4rem 0;
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
  -webkit-line-clamp: 5;
  line-clamp: 5;
  overflow: hidden;
}
.strong > .cut {
  display: block;
}
.waiting {
  opacity: 0.7;
}
</style>
