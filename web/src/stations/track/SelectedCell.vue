<script setup lang="ts">
import { computed, ref, watch } from 'vue'

import type { Said } from '@/api/holds'
import { useShareWorking, type PrevalenceTable } from '@/api/prevalence'
import { useTopics } from '@/api/topics'
import PinStatement from '@/frame/PinStatement.vue'
import { useEvidence } from '@/frame/evidence'
import { percent, period } from '@/marks/format'

import CopySentence from './CopySentence.vue'
import TrackWorking from './TrackWorking.vue'
import { useBreakdown } from './breakdown'
import { cellAt, estimate, resting, shareOf } from './prevalence'

/** The estimate that is selected, as a sentence for a report, with its working. */
const props = defineProps<{ tables: (PrevalenceTable | undefined)[] }>()
const { by, byGroup } = useBreakdown()
const { label } = useTopics()
const { request, topic } = useEvidence()
const open = ref(false)
/** As many as the server takes in one statement. */
const MOST_SIDES = 12
/** What is selected, where one of the tables has exactly that. */
const found = computed(() => {
  if (topic.value === undefined) return null
  const [group, at] = [request.value?.value ?? null, request.value?.at ?? null]
  for (const table of props.tables)
    if (table) {
      const cell = cellAt(table, group, at)
      const value = cell && shareOf(table, cell, topic.value)
      if (cell && value) return { table, cell, value, group, at, topic: topic.value }
    }
  return null
})
const cell = computed(() =>
  found.value && open.value
    ? { topic: found.value.topic, value: found.value.group ?? undefined, at: found.value.at ?? undefined }
    : undefined,
)
const settings = computed(() => (found.value?.table.periods.length ? by.value : byGroup.value))
const working = useShareWorking(settings, cell)
watch(
  () => [topic.value, request.value?.value, request.value?.at],
  () => (open.value = false),
)
/** The groups as they follow each other by what they hold, where they are few enough to be said in a sentence. */
const order = computed((): Said | undefined => {
  if (!found.value || found.value.table.periods.length) return undefined
  const { table, topic } = found.value
  const shares = table.groups.flatMap((value, at) => {
    const share = table.cells[at]?.documents ? shareOf(table, table.cells[at], topic)?.mean : undefined
    return share === undefined ? [] : [{ value, share }]
  })
  if (shares.length < 2 || shares.length > MOST_SIDES || table.pages > 1) return undefined
  const sides = shares.sort((a, b) => b.share - a.share).map(({ value }) => ({ value }))
  return { by: byGroup.value, sides, topic } as Said
})
const sentence = computed(() => {
  if (!found.value) return ''
  const { table, cell, value, group, at, topic } = found.value
  const where = [group && `${table.group} ${group}`, at && period(at)].filter(Boolean).join(', ')
  const ends =
    value.low === null || value.high === null
      ? `no interval under ${table.least} units`
      : `95 % interval ${percent(value.low)} to ${percent(value.high)}`
  const weight = table.weight === 'tokens' ? 'counted words' : 'each document'
  return `“${label(topic)}” takes up ${percent(value.mean)} ${where ? `in ${where}` : 'of all documents'} (${ends}; ${resting(cell)}), by ${weight}.`
})
</script>

<template>
  <section v-if="found" class="selected" aria-label="Selected estimate">
    <p class="book">
      Selected: <b>{{ label(found.topic) }}</b> {{ estimate(found.value, found.table.least) }},
      {{ resting(found.cell) }}
      <button class="plain link small" :aria-expanded="open" @click="open = !open">working</button>
      <CopySentence :sentence="sentence" />
      <PinStatement v-if="order" :said="order">pin the order by {{ found.table.group }}</PinStatement>
    </p>
    <TrackWorking v-if="open && working.data.value" :working="working.data.value" />
  </section>
</template>

<style scoped>
.selected {
  border-left: 3px solid var(--woad);
  padding-left: 0.8rem;
}
p {
  margin: 0;
}
.link {
  font-family: var(--interface);
  min-height: 24px;
  margin-left: 0.6rem;
}
</style>
