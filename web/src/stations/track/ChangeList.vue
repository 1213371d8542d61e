<script setup lang="ts">
import { computed } from 'vue'

import type { MovementTable } from '@/api/prevalence'
import { useTopics } from '@/api/topics'
import { useEvidence } from '@/frame/evidence'
import Swatch from '@/marks/Swatch.vue'
import { percent, period } from '@/marks/format'

import { useBreakdown } from './breakdown'
import { chance, points, stretch } from './prevalence'

/** Change points of the topics shown, each with the documents after it. */
const props = defineProps<{ changes: MovementTable['changes']; note: string; made: boolean }>()
const { group } = useBreakdown()
const { label, dye } = useTopics()
const { select } = useEvidence()
type Change = MovementTable['changes'][number]
const after = (each: Change) => ({
  topic: each.topic,
  ...(each.group ? { field: group.value, value: each.group } : {}),
  at: stretch(each.period, each.last),
})
const key = (each: Change) => `${each.group} ${each.topic} ${each.period}`
const ordered = computed(() =>
  [...props.changes].sort((a, b) => (a.group < b.group ? -1 : a.group > b.group ? 1 : a.p - b.p)),
)
</script>

<template>
  <section v-if="made" aria-label="Change points">
    <h2>Change points <small v-if="!changes.length" class="soft">none of these topics shows one</small></h2>
    <ul>
      <li v-for="each in ordered" :key="key(each)">
        <button class="plain change" title="The documents after it" @click="select(after(each))">
          <Swatch :dye="dye(each.topic)" :size="13" />
          <span class="cut">{{ label(each.topic) }}{{ each.group ? `, ${each.group}` : '' }}</span>
          <b>{{ period(each.period) }}</b>
          <span class="numbers">{{ percent(each.before) }} → {{ percent(each.after) }}</span>
          <span class="soft numbers"
            >{{ points(each.difference) }} ({{ points(each.low) }} to {{ points(each.high) }}),
            {{ chance(each.p) }}</span
          >
        </button>
      </li>
    </ul>
    <p class="soft small">
      Found one after another: the clearest boundary of a stretch, then either side of it. p over all boundaries of the
      stretch. {{ note }}
    </p>
  </section>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
.change {
  display: grid;
  grid-template-columns: max-content minmax(8rem, 15rem) 6rem 9rem minmax(0, 1fr);
  gap: 0.6rem;
  align-items: center;
  min-height: 26px;
  width: 100%;
  border-bottom: 1px solid var(--hairline);
}
.change:hover {
  background: var(--woad-wash);
}
p {
  margin: 0.2rem 0 0;
}
</style>
