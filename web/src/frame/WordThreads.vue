<script setup lang="ts">
import { computed } from 'vue'

import type { Topic } from '@/api/client'
import ChartFrame from '@/marks/ChartFrame.vue'
import ThreadRows from '@/marks/ThreadRows.vue'
import { colour, patternId } from '@/marks/dyes'
import { percent } from '@/marks/format'
import { useLeaveOut } from '@/frame/leaving'

const props = withDefaults(defineProps<{ topic: Topic; high?: number; figure?: number }>(), { high: 27 })
defineEmits<{ pick: [string] }>()
const { leaveTermOut } = useLeaveOut()
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
      @pick="$emit('pick', $event.key)"
      @leave="leaveTermOut($event.key)" />
  </ChartFrame>
</template>
