<script setup lang="ts">
import { computed } from 'vue'

import type { ApartTable, OwnTopic } from '@/api/apart'
import { useTopics } from '@/api/topics'
import { useEvidence } from '@/frame/evidence'
import { count, percent } from '@/marks/format'

import { became } from './apart'

/** One topic in one part: what the fit has there, and the topics of the part's own model that its words went to. */
const props = defineProps<{ found: ApartTable; topic: number; part: number }>()
const { label, topics } = useTopics()
const { select, isSelected } = useEvidence()
const there = computed(() => props.found.parts[props.part])
const cell = computed(() => props.found.topics[props.topic]?.cells.find((each) => each.part === props.part))
const into = computed(() =>
  (cell.value?.into ?? []).map((each) => ({ own: there.value.topics[each.own], share: each.share })),
)
const here = computed(() => ({
  topic: props.topic,
  ...(props.found.field ? { field: props.found.field, value: there.value.name } : { at: there.value.name }),
}))
const mine = (own: OwnTopic) => ({ part_fit: there.value.identity, own: own.own })
const flow = (own: OwnTopic, share: number) => (share * (cell.value?.tokens ?? 0)) / Math.max(own.tokens, 1)
</script>

<template>
  <section v-if="there && cell" class="of" aria-live="polite">
    <h2>{{ label(topic) }} in {{ there.said }}</h2>
    <p>{{ became(cell, there) }}.</p>
    <button class="plain words book" :class="{ selected: isSelected(here) }" @click="select(here)">
      <span class="small soft who">in the fit of all</span>
      {{
        topics[topic]?.words
          .slice(0, 8)
          .map((each) => each.display)
          .join(', ')
      }}
    </button>
    <p class="small numbers">
      {{ count(Math.round(cell.tokens)) }} of its words are there, {{ percent(cell.share) }} of the part’s
    </p>
    <template v-for="each in into" :key="each.own.own">
      <button
        class="plain words book"
        :class="{ selected: isSelected(mine(each.own)) }"
        @click="select(mine(each.own))">
        <span class="small soft who">in the model of {{ there.said }} alone</span>
        {{ each.own.words.slice(0, 8).join(', ') }}
      </button>
      <p class="small numbers">
        {{ percent(each.share) }} of these words went there, {{ percent(flow(each.own, each.share)) }} of what it has
        ({{ count(Math.round(each.share * cell.tokens)) }} of {{ count(Math.round(each.own.tokens)) }})
      </p>
    </template>
  </section>
</template>

<style scoped>
.of {
  border-left: 3px solid var(--hairline);
  padding-left: 0.9rem;
}
h2 {
  margin: 0;
}
p {
  margin: 0.2rem 0 0.5rem;
}
.words {
  display: block;
  text-align: left;
  min-height: 24px;
}
.who {
  display: block;
  font-family: var(--interface);
}
.selected {
  background: var(--weld-wash);
}
</style>
