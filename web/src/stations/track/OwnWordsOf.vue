<script setup lang="ts">
import { scaleLinear } from 'd3-scale'
import { computed } from 'vue'

import type { EvidenceRequest } from '@/api/evidence'
import type { OwnWordsTable } from '@/api/prevalence'
import { useTopics } from '@/api/topics'
import { useAddress } from '@/frame/address'
import { useEvidence } from '@/frame/evidence'
import { count, percent } from '@/marks/format'

import { chance } from './prevalence'

/** A topic in one group: its words there, those that are more or less its own, and how far it drifts. */
type Group = OwnWordsTable['groups'][number]
type Word = Group['more'][number]
const props = defineProps<{ group: Group; found: OwnWordsTable }>()
const { label } = useTopics()
const { select, isSelected } = useEvidence()
const { get, set } = useAddress()
const SHOWN = 6
const sides = computed(() =>
  [
    { name: 'more here', words: props.group.more.slice(0, SHOWN) },
    { name: 'less here', words: props.group.less.slice(0, SHOWN) },
  ].filter((each) => each.words.length),
)
const x = computed(() => scaleLinear([0, Math.max(0.02, props.group.drift ?? 0, props.group.by_chance ?? 0)], [0, 100]))
const beyond = computed(() => (props.group.drift ?? 0) > (props.group.by_chance ?? 1))
const times = (value: number) => (value >= 10 ? value.toFixed(0) : value.toFixed(1))
const ends = (word: Word) =>
  `${word.low === null ? '0' : times(word.low)} to ${word.high === null ? '∞' : times(word.high)}`
const evidence = (term: string): EvidenceRequest => ({
  topic: props.found.topic,
  holding: term,
  ...(props.found.field ? { field: props.found.field, value: props.group.name } : { at: props.group.name }),
})
const key = (word: Word) => `${props.group.name} ${word.term}`
const worked = computed(() => [...props.group.more, ...props.group.less].find((each) => key(each) === get('own')))
function pick(word: Word) {
  select(evidence(word.term))
  set({ own: key(word) })
}
</script>

<template>
  <section :aria-label="group.said">
    <h2>
      {{ group.said }} <small class="soft">{{ count(group.tokens) }} words of it</small>
    </h2>
    <p class="book words">
      <button
        v-for="each in group.words.slice(0, 8)"
        :key="each.term"
        class="plain"
        :class="{ selected: isSelected(evidence(each.term)) }"
        :title="`${percent(each.weight)} of its words there`"
        @click="select(evidence(each.term))">
        {{ each.display }}
      </button>
    </p>
    <div class="sides">
      <div v-for="side in sides" :key="side.name">
        <h3>{{ side.name }}</h3>
        <button
          v-for="each in side.words"
          :key="each.term"
          class="plain line small"
          :class="{ sure: each.sure, selected: isSelected(evidence(each.term)) }"
          :title="`${chance(each.adjusted)}; ${each.inside} here, ${each.outside} elsewhere`"
          @click="pick(each)">
          <span class="book cut">{{ each.display }}</span>
          <span class="numbers">{{ times(each.times) }}×</span>
          <span class="numbers soft">{{ ends(each) }}</span>
        </button>
      </div>
    </div>
    <p v-if="worked" class="small numbers">{{ worked.display }}: {{ worked.working }}</p>
    <p v-if="group.drift !== null" class="small drift">
      <svg width="100" height="12" aria-hidden="true">
        <line x1="0" x2="100" y1="6" y2="6" class="thread" />
        <line x1="0" :x2="x(group.drift)" y1="6" y2="6" class="gone" :class="{ beyond }" />
        <line :x1="x(group.by_chance ?? 0)" :x2="x(group.by_chance ?? 0)" y1="0" y2="12" class="chance" />
      </svg>
      drift {{ group.drift.toFixed(2) }}, by chance under {{ (group.by_chance ?? 0).toFixed(2) }}
      <b v-if="group.another">another topic here: nearer to {{ label(group.nearest) }}</b>
    </p>
  </section>
</template>

<style scoped>
h2 {
  margin: 0;
  border-bottom: 1px solid var(--soft);
}
h2 small {
  font-family: var(--interface);
  font-weight: 400;
}
h3 {
  margin: 0.3rem 0 0;
  font-size: 0.8rem;
}
.words {
  margin: 0.2rem 0;
}
.words button {
  min-height: 24px;
  margin-right: 0.5rem;
}
.sides {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 1rem;
}
.line {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 3rem 5rem;
  width: 100%;
  min-height: 24px;
  text-align: left;
  align-items: center;
}
.line .numbers {
  text-align: right;
}
.line:not(.sure) .book {
  color: var(--soft);
}
.sure {
  font-weight: 700;
}
.selected {
  background: var(--weld-wash);
}
.drift {
  display: flex;
  align-items: center;
  gap: 0.5rem;
  margin: 0.3rem 0 0;
}
.thread {
  stroke: var(--hairline);
  stroke-width: 2;
}
.gone {
  stroke: var(--soft);
  stroke-width: 4;
}
.gone.beyond {
  stroke: var(--weld);
}
.chance {
  stroke: var(--ink);
}
</style>
