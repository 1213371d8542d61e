<script setup lang="ts">
import { ask, client } from '@/api/client'
import { useStrandQuery } from '@/api/strand'
import Waiting from '@/frame/Waiting.vue'
import { useEvidence } from '@/frame/evidence'
import { percent } from '@/marks/format'

/** The topics of a fit that may be taken, by their words: whether they mean anything is for the reader. */
const props = defineProps<{ identity: string }>()
const { select, isSelected } = useEvidence()
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
const evidence = (topic: number) => ({ topic, of_fit: props.identity })
</script>

<template>
  <h3>Its topics</h3>
  <Waiting v-if="!detail.data.value" what="Reading its topics" />
  <ol v-else class="topics" :class="{ waiting: detail.isPlaceholderData.value }">
    <li v-for="(words, at) in detail.data.value.top" :key="at">
      <span class="numbers soft small">{{ percent(detail.data.value.summary.share[at].mean) }}</span>
      <span v-if="detail.data.value.summary.empty?.includes(at)" class="soft">stayed empty</span>
      <button
        v-else
        class="plain book cut"
        :class="{ selected: isSelected(evidence(at)) }"
        :title="words.join(' ')"
        @click="select(evidence(at))">
        {{ words.join(' ') }}
      </button>
    </li>
  </ol>
</template>

<style scoped>
.topics {
  list-style: none;
  margin: 0.3rem 0 0;
  padding: 0;
}
li {
  display: flex;
  gap: 0.6rem;
  align-items: center;
  border-bottom: 1px solid var(--hairline);
}
li > .small {
  width: 3.2rem;
  flex: none;
  text-align: right;
}
button {
  text-align: left;
  min-width: 0;
  min-height: 26px;
}
button.selected {
  background: var(--woad-wash);
}
h3 {
  margin: 0.6rem 0 0;
}
.waiting {
  opacity: 0.7;
}
</style>
