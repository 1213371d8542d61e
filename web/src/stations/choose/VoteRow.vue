<script setup lang="ts">
import type { Schemas } from '@/api/client'

import { useVote } from './choose'

/** What somebody says of a topic before a count is chosen. */
const props = defineProps<{ fit: string; topic: Schemas['CountTopic'] }>()
const VOTES: NonNullable<Schemas['VoteEdit']['vote']>[] = ['keep apart', 'same thing twice', 'not a topic']
const cast = useVote()
const vote = (said: (typeof VOTES)[number]) =>
  cast.mutate({ fit: props.fit, topic: props.topic.topic, vote: props.topic.vote === said ? null : said })
</script>

<template>
  <span class="votes" role="group" :aria-label="`What topic ${topic.topic + 1} is`">
    <button
      v-for="each in VOTES"
      :key="each"
      class="plain small"
      :aria-pressed="topic.vote === each"
      :disabled="cast.isPending.value"
      @click="vote(each)">
      {{ each }}
    </button>
  </span>
</template>

<style scoped>
.votes {
  display: flex;
  flex-wrap: wrap;
  gap: 0.2rem 0.5rem;
}
button {
  padding: 0 0.35rem;
  min-height: 24px;
  border: 1px solid var(--hairline);
}
button[aria-pressed='true'] {
  border-color: var(--woad);
  background: var(--woad-wash);
}
</style>
