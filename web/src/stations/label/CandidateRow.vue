<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref, watch } from 'vue'

import type { Schemas, Topic } from '@/api/client'
import { useEvidence } from '@/frame/evidence'
import { decimal } from '@/marks/format'

/** Phrases of the topic's own tokens to call it by, each with what speaks for it. */
const props = defineProps<{
  topic: Topic
  candidates: Schemas['LabelCandidateSeen'][]
  waiting: boolean
  failed: boolean
  says: string
}>()
defineEmits<{ take: [string]; again: [] }>()
const { select } = useEvidence()
const why = ref(false)
const SHOWN = 4
const LISTED = 6
const CAME: Record<string, string> = {
  same: 'Suggested from an earlier fit',
  split: 'Suggested from an earlier fit, whose topic split',
  merged: 'Suggested from an earlier fit, of several topics',
  table: 'Suggested from a table',
}
const suggested = computed(() => !!props.topic.label && !props.topic.confirmed)
watch(
  () => props.topic.topic,
  () => (why.value = false),
)
</script>

<template>
  <div class="candidates">
    <div v-if="suggested" class="row wrap">
      <span class="small">
        {{ CAME[topic.came] ?? CAME.same
        }}<span v-if="topic.likeness !== null" class="soft">, {{ decimal(topic.likeness) }} alike</span>
      </span>
      <Button size="small" :label="`Confirm “${topic.label}”`" @click="$emit('take', topic.label)" />
    </div>
    <div class="row wrap">
      <span class="soft small">Candidates</span>
      <template v-if="candidates.length">
        <Button
          v-for="each in candidates.slice(0, SHOWN)"
          :key="each.words"
          size="small"
          severity="secondary"
          :label="each.words"
          :title="each.says"
          @click="$emit('take', each.words)" />
        <button class="plain link small" :aria-expanded="why" @click="why = !why">why?</button>
      </template>
      <template v-else>
        <Button
          v-for="each in topic.candidates"
          :key="each"
          size="small"
          severity="secondary"
          :label="each"
          @click="$emit('take', each)" />
        <button v-if="failed" class="plain link small" @click="$emit('again')">look for phrases again</button>
        <span v-else-if="waiting" class="soft small">words for now; phrases are being looked for</span>
      </template>
    </div>
    <dl v-if="why" class="why small">
      <template v-for="each in candidates.slice(0, LISTED)" :key="each.words">
        <dt>
          <button class="plain link" @click="$emit('take', each.words)">{{ each.words }}</button>
          <button
            class="plain soft"
            :title="`Documents of the topic with “${each.words}”`"
            :aria-label="`Documents with ${each.words}`"
            @click="select({ word: each.words })">
            {{ each.places }}×
          </button>
        </dt>
        <dd>{{ each.says }}.</dd>
      </template>
      <dd class="soft all">
        {{ says }} First the best by ln(1 + C-value) × own share × closeness × weight of its words.
      </dd>
    </dl>
  </div>
</template>

<style scoped>
.candidates {
  display: grid;
  gap: 0.4rem;
}
.why {
  display: grid;
  grid-template-columns: max-content minmax(0, 1fr);
  gap: 0.1rem 1rem;
  margin: 0;
  border-left: 2px solid var(--hairline);
  padding-left: 0.8rem;
}
dt {
  display: flex;
  justify-content: space-between;
  gap: 0.8rem;
}
dd {
  margin: 0;
}
.all {
  grid-column: 1 / -1;
}
button.plain {
  min-height: 24px;
}
</style>
