<script setup lang="ts">
import { computed, ref, watch } from 'vue'

import type { Topic } from '@/api/client'
import ChartFrame from '@/marks/ChartFrame.vue'
import ThreadRows, { type ThreadRow } from '@/marks/ThreadRows.vue'
import { colour, patternId } from '@/marks/dyes'
import { percent } from '@/marks/format'
import { useLeaveOut } from '@/frame/leaving'

const props = withDefaults(defineProps<{ topic: Topic; high?: number; figure?: number }>(), { high: 27 })
const emit = defineEmits<{ pick: [string] }>()
const { leaveTermOut } = useLeaveOut()
const picked = ref<ThreadRow>()
watch(
  () => props.topic.topic,
  () => (picked.value = undefined),
)
function pick(row: ThreadRow) {
  picked.value = row
  emit('pick', row.key)
}
const threads = computed(() =>
  props.topic.words.map((word) => ({
    key: word.term,
    label: word.display,
    value: word.share,
    figure: percent(word.share),
    said: `${word.display}: ${percent(word.share)} of the topic; ${percent(word.own, 0)} of the word’s weight is here`,
    knot: 2.5 + 5 * word.own,
    evidence: { term: word.term },
  })),
)
</script>

<template>
  <ChartFrame
    title="Words"
    note="length: share · knot: own"
    :name="`topic-${topic.topic + 1}-words`"
    :header="['word', 'share within the topic', 'own']"
    :rows="topic.words.map((word) => [word.display, word.share, word.own])">
    <ThreadRows
      :rows="threads"
      title="Words of the topic"
      :colour="colour(topic.dye)"
      :fill="`url(#${patternId(topic.dye)})`"
      :high="high"
      :figure="figure"
      @pick="pick($event)"
      @leave="leaveTermOut($event.key)" />
    <p v-if="picked" class="soft small">
      <span class="book">{{ picked.label }}</span>:
      <button class="plain link" @click="leaveTermOut(picked.key)">leave it out</button> <kbd>x</kbd>, then apply, to
      fit again without it
    </p>
  </ChartFrame>
</template>
