<script setup lang="ts">
import { ask, client } from '@/api/client'
import { useStrandQuery } from '@/api/strand'
import Waiting from '@/frame/Waiting.vue'
import { percent } from '@/marks/format'

/** The topics of a fit that may be taken, by their words: whether they mean anything is for the reader. */
const props = defineProps<{ identity: string }>()
const detail = useStrandQuery(
  'fit',
  () => props.identity,
  (strand) =>
    ask(
      client.GET('/api/strands/{strand_id}/fits/{identity}', {
        params: { path: { strand_id: strand, identity: props.identity } },
      }),
    ),
)
</script>

<template>
  <section>
    <h2>Its topics</h2>
    <Waiting v-if="!detail.data.value" what="Reading its topics" />
    <ol v-else class="topics" :class="{ waiting: detail.isPlaceholderData.value }">
      <li v-for="(words, at) in detail.data.value.top" :key="at" class="row">
        <span class="numbers soft small">{{ percent(detail.data.value.summary.share[at].mean) }}</span>
        <span v-if="detail.data.value.summary.empty?.includes(at)" class="soft">stayed empty</span>
        <span v-else class="book cut" :title="words.join(' ')">{{ words.join(' ') }}</span>
      </li>
    </ol>
  </section>
</template>

<style scoped>
.topics {
  list-style: none;
  margin: 0.3rem 0 0;
  padding: 0;
  columns: 2;
  column-gap: 2rem;
}
li {
  break-inside: avoid;
  padding: 0.16rem 0;
  border-bottom: 1px solid var(--hairline);
}
li > .small {
  width: 3.2rem;
  flex: none;
  text-align: right;
}
.waiting {
  opacity: 0.7;
}
@media (max-width: 1100px) {
  .topics {
    columns: 1;
  }
}
</style>
