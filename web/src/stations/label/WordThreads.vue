<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '@/api/client'
import { useSelection } from '@/frame/selection'
import { colour, patternId } from '@/marks/dyes'
import { percent } from '@/marks/format'
import { useWidth } from '@/marks/size'

const props = defineProps<{ words: Schemas['TopicWord'][]; dye: number }>()
const { select } = useSelection()
const width = useWidth(420)
const ROW = 27
const LABEL = 118
const most = computed(() => Math.max(1e-9, ...props.words.map((word) => word.share)))
const length = (word: Schemas['TopicWord']) => (word.share / most.value) * (width.value - LABEL - 76)
const thread = (word: Schemas['TopicWord'], at: number) => {
  const [y, reach] = [at * ROW + 14, length(word)]
  return `M${LABEL} ${y}c${reach / 3} -4 ${(2 * reach) / 3} 4 ${reach} 0`
}
const said = (word: Schemas['TopicWord']) =>
  `${word.display}: ${percent(word.share)} of the topic; ${percent(word.own, 0)} of the word’s weight is here`
</script>

<template>
  <div ref="chart">
    <svg :width="width" :height="words.length * ROW + 4" role="group" aria-label="Words of the topic">
      <g
        v-for="(word, at) in words"
        :key="word.term"
        class="word"
        data-mark
        role="button"
        :tabindex="at === 0 ? 0 : -1"
        @click="select({ term: word.term })"
        @keydown.enter="select({ term: word.term })">
        <title>{{ said(word) }}</title>
        <rect :y="at * ROW" :width="width" :height="ROW" class="ground" />
        <text :x="LABEL - 9" :y="at * ROW + 19" text-anchor="end" class="name">
          {{ word.display }}
        </text>
        <path :d="thread(word, at)" :style="{ stroke: colour(dye) }" />
        <circle
          :cx="LABEL + length(word)"
          :cy="at * ROW + 14"
          :r="2.5 + 5 * word.own"
          :fill="`url(#${patternId(dye)})`"
          :style="{ stroke: colour(dye) }" />
        <text :x="width - 4" :y="at * ROW + 19" text-anchor="end" class="share">
          {{ percent(word.share) }}
        </text>
      </g>
    </svg>
  </div>
</template>

<style scoped>
.word {
  cursor: pointer;
}
.ground {
  fill: transparent;
}
.word:hover .ground {
  fill: var(--woad-wash);
}
path {
  fill: none;
  stroke-width: 3;
  stroke-linecap: round;
}
.name {
  font-family: var(--book);
  font-size: 15px;
  fill: var(--ink);
}
.share {
  font-size: 12px;
  fill: var(--soft);
}
</style>
