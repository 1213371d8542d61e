<script setup lang="ts">
import { computed, ref } from 'vue'

import type { Schemas } from '@/api/client'
import { useTopics } from '@/api/topics'
import ChartFrame from '@/marks/ChartFrame.vue'
import Mark from '@/marks/Mark.vue'
import Plot from '@/marks/Plot.vue'
import { colour } from '@/marks/dyes'
import { counted } from '@/marks/format'

import { five } from './numbers'
import { strung } from './strung'

/** The top terms strung on threads in the order of the alphabet, as large as they weigh. */
const props = defineProps<{ found: Schemas['TopTerms'] }>()
const { dye, label, fit } = useTopics()
const width = ref(800)
const pen = document.createElement('canvas').getContext('2d')
const family = getComputedStyle(document.documentElement).getPropertyValue('--book')
function measure(text: string, size: number) {
  if (!pen) return 0.56 * size * text.length
  pen.font = `${size}px ${family}`
  return pen.measureText(text).width * 1.03
}
const LONGEST = 40
/** A word without end is cut; its name and the table have it whole. */
const cut = (word: string) => (word.length > LONGEST ? `${word.slice(0, LONGEST - 1)}…` : word)
const terms = computed(() =>
  props.found.terms
    .filter((each) => each.weight > 0)
    .map((each) => ({ ...each, key: each.term, label: cut(each.display) }))
    .sort((a, b) => a.display.localeCompare(b.display)),
)
const laid = computed(() => strung(terms.value, width.value - 4, measure))
const by = computed(() => new Map(terms.value.map((each) => [each.term, each])))
const ink = (term: string) => {
  const topic = by.value.get(term)?.topic
  return topic === null || topic === undefined ? 'var(--ink)' : colour(dye(topic))
}
const said = (term: string) => {
  const each = by.value.get(term)
  if (!each) return ''
  const topic = each.topic === null ? '' : `, most of all ${label(each.topic)}`
  return `${each.display}: ${five(each.weight)}, in ${counted(each.documents, 'document')}${topic}`
}
const sag = (from: number, to: number, y: number) => `M${from} ${y}Q${(from + to) / 2} ${y + 5} ${to} ${y}`
</script>

<template>
  <ChartFrame
    title="Words on threads"
    :note="`letters as high as the square root of the weight (${found.weighting}); from A to Z${fit ? '; dyed by the topic they are most of' : ''}`"
    name="words-on-threads"
    :header="['term', 'weight', 'count', 'documents']"
    :rows="terms.map((each) => [each.display, each.weight, each.count, each.documents])">
    <Plot v-model:width="width" :height="laid.height" label="Words on threads">
      <path v-for="thread in laid.threads" :key="thread.y" :d="sag(thread.from, thread.to, thread.y)" class="thread" />
      <Mark v-for="word in laid.words" :key="word.key" :said="said(word.key)" :evidence="{ term: word.key }">
        <rect
          :x="word.x - 3"
          :y="word.y - word.size"
          :width="word.width + 6"
          :height="word.size * 1.25"
          class="target" />
        <circle :cx="word.x" :cy="word.y + 5" r="2" :style="{ fill: ink(word.key) }" />
        <text :x="word.x" :y="word.y" class="word" :style="{ fontSize: `${word.size}px`, fill: ink(word.key) }">
          {{ word.label }}
        </text>
      </Mark>
    </Plot>
  </ChartFrame>
</template>

<style scoped>
.thread {
  fill: none;
  stroke: var(--hairline);
  stroke-width: 1.6;
}
figure svg .word {
  font-family: var(--book);
}
</style>
