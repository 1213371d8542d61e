<script setup lang="ts">
import { computed } from 'vue'

import type { Said } from '@/api/holds'
import { useContrast, useContrastWorking, usePrevalence } from '@/api/prevalence'
import { useTopics } from '@/api/topics'
import PinStatement from '@/frame/PinStatement.vue'
import Waiting from '@/frame/Waiting.vue'
import { useEvidence } from '@/frame/evidence'
import { count } from '@/marks/format'

import BreakdownBar from './BreakdownBar.vue'
import ContrastChart from './ContrastChart.vue'
import CopySentence from './CopySentence.vue'
import SelectionChooser from './SelectionChooser.vue'
import TrackWorking from './TrackWorking.vue'
import { useBreakdown } from './breakdown'

/** Any two selections held against each other: a group, a stretch of time, both; or one against all others. */
const { by, byGroup, choices, query: asked, group, get, set } = useBreakdown()
const { topics } = useTopics()
const { topic: selected } = useEvidence()
/** For the names of groups and periods: one topic will do. */
const table = usePrevalence(
  () => ({ ...by.value, topic: [0] }),
  () => !!choices.value,
)
const one = computed(() => ({ value: get('av'), at: get('a') }))
const other = computed(() => ({ value: get('bv'), at: get('b') }))
const given = computed(() => !!(one.value.value || one.value.at))
const sides = computed(() => ({
  ...by.value,
  value: one.value.value || undefined,
  at: one.value.at || undefined,
  against_value: other.value.value || undefined,
  against_at: other.value.at || undefined,
}))
const contrast = useContrast(sides, () => !!choices.value && given.value)
const found = computed(() => (given.value ? contrast.data.value : undefined))
const evidence = (topic: number) => ({
  topic,
  ...(one.value.value ? { field: group.value, value: one.value.value } : {}),
  ...(one.value.at ? { at: one.value.at } : {}),
})
const shown = computed(() => found.value?.topics.find((each) => each.topic === selected.value))
const working = useContrastWorking(sides, () => (given.value && get('work') === '1' ? shown.value?.topic : undefined))
/** The one that holds more comes first; one alone may hold less than all others. */
const said = computed(() => {
  const clean = ({ value, at }: { value: string; at: string }) => ({ value: value || null, at: at || null })
  if (!shown.value) return undefined
  const alone = !other.value.value && !other.value.at
  const less = shown.value.difference < 0
  const both = [clean(one.value), clean(other.value)]
  const sides = alone ? [both[0]] : less ? both.reverse() : both
  return { by: byGroup.value, sides, less: alone && less, topic: shown.value.topic } as Said
})
const swap = () => set({ av: other.value.value, a: other.value.at, bv: one.value.value, b: one.value.at })
const documents = (at: 'one' | 'other') =>
  found.value &&
  `${count(found.value[`${at}_documents`])} documents${found.value[`${at}_units`] === found.value[`${at}_documents`] ? '' : ` of ${count(found.value[`${at}_units`])} ${by.value.unit ?? 'units'}`}`
</script>

<template>
  <h1>Any two selections</h1>
  <BreakdownBar />
  <p v-if="asked.error.value ?? table.error.value" class="notice bad">
    {{ (asked.error.value ?? table.error.value)?.message }}
  </p>
  <div class="sides">
    <SelectionChooser
      name="This"
      :table="table.data.value"
      v-bind="one"
      @change="(value, at) => set({ av: value, a: at, ev: '' })" />
    <button class="plain chip" :disabled="!other.value && !other.at" @click="swap">⇄ swap</button>
    <SelectionChooser
      name="against"
      rest
      :table="table.data.value"
      v-bind="other"
      @change="(value, at) => set({ bv: value, b: at })" />
  </div>
  <p v-if="!given" class="notice">
    Choose a group or a stretch of time on the left; on the right another, or leave it at all others.
  </p>
  <p v-else-if="contrast.error.value" class="notice bad">{{ contrast.error.value.message }}</p>
  <Waiting v-else-if="!found" what="Holding one against the other" />
  <template v-else>
    <p class="soft small">
      {{ found.one }}: {{ documents('one') }}; {{ found.other }}: {{ documents('other') }}. {{ found.says.join(' ') }}
    </p>
    <ContrastChart
      v-if="found.topics.length"
      :class="{ waiting: contrast.isPlaceholderData.value }"
      :table="found"
      :evidence="evidence" />
    <section v-if="shown" class="sentence" aria-label="Sentence for a report">
      <p class="book">{{ shown.sentence }}</p>
      <p>
        <button
          class="plain link small"
          :aria-expanded="get('work') === '1'"
          @click="set({ work: get('work') === '1' ? '' : '1' })">
          working
        </button>
        <CopySentence :sentence="shown.sentence" />
        <PinStatement v-if="said" :said="said" />
      </p>
      <TrackWorking v-if="get('work') === '1' && working.data.value" :working="working.data.value" />
    </section>
    <p v-else-if="found.topics.length && topics.length" class="soft small">
      Select a topic for its sentence, working and documents.
    </p>
  </template>
</template>

<style scoped>
.sides {
  display: grid;
  grid-template-columns: minmax(0, 1fr) max-content minmax(0, 1fr);
  gap: 1rem;
  align-items: end;
}
.waiting {
  opacity: 0.6;
}
.sentence {
  border-left: 3px solid var(--woad);
  padding-left: 0.8rem;
}
.sentence p {
  margin: 0 0 0.2rem;
}
.link {
  min-height: 24px;
}
</style>
