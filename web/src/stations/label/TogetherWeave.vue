<script setup lang="ts">
import { computed, ref } from 'vue'

import type { Schemas, Topic } from '@/api/client'
import ChartFrame from '@/marks/ChartFrame.vue'
import Mark from '@/marks/Mark.vue'
import Plot from '@/marks/Plot.vue'
import { colour } from '@/marks/dyes'
import { decimal } from '@/marks/format'

/**
 * All pairs as a half weave: each topic is one thread that comes from the left and turns down at the edge. Where two
 * cross is their knot: full for more than chance, open for less, nothing where neither is sure.
 */
type Pair = Schemas['TopicPair']
const props = defineProps<{ found: Schemas['TopicsTogether']; topics: Topic[]; share: number }>()
const emit = defineEmits<{ pick: [Pair] }>()
const width = ref(520)
const LABEL = 132
const SMALLEST = 13
const order = computed(() => props.found.order)
const place = computed(() => new Map(order.value.map((topic, at) => [topic, at])))
const cell = computed(() =>
  Math.max(SMALLEST, Math.min(38, (width.value - LABEL - 16) / Math.max(1, order.value.length))),
)
const height = computed(() => cell.value * order.value.length + 12)
const mid = (at: number) => (at + 0.5) * cell.value + 4
const knots = computed(() =>
  props.found.pairs.map((pair) => {
    const a = place.value.get(pair.one) ?? 0
    const b = place.value.get(pair.other) ?? 0
    return { pair, x: LABEL + mid(Math.min(a, b)), y: mid(Math.max(a, b)) }
  }),
)
const name = (at: number) => props.topics[at]?.title ?? ''
const radius = (pair: Pair) => Math.min(0.46, 0.16 + 0.12 * Math.abs(pair.effect)) * cell.value
const said = (pair: Pair) =>
  `${name(pair.one)} and ${name(pair.other)}: ${pair.observed} documents hold both, ${decimal(pair.expected, 1)} by chance; ${
    pair.sure ? (pair.more ? 'more' : 'less') : 'neither more nor less for sure'
  }`
const evidence = (pair: Pair) => ({ topic: pair.one, with_topic: pair.other, held_from: props.share })
const rows = computed(() =>
  props.found.pairs.map((each) => [
    name(each.one),
    name(each.other),
    each.observed,
    each.expected,
    each.effect,
    each.p,
    each.adjusted,
    each.correlation,
  ]),
)
const HEADER = ['topic', 'with', 'documents', 'expected', 'log2 ratio', 'p', 'p adjusted', 'log-ratio correlation']
const clip = (text: string) => (text.length > 19 ? `${text.slice(0, 18)}…` : text)
</script>

<template>
  <ChartFrame
    title="All pairs"
    note="full + more, open − less than chance, dot not sure"
    name="topics-together"
    :header="HEADER"
    :rows="rows">
    <div class="scroll">
      <div :style="{ minWidth: `${LABEL + 16 + SMALLEST * order.length}px` }">
        <Plot v-model:width="width" :height="height" label="Pairs of topics">
          <g v-for="(topic, at) in order" :key="topic">
            <text :x="LABEL - 8" :y="mid(at) + 4" text-anchor="end" class="name">
              {{ clip(name(topic)) }}<title>{{ name(topic) }}</title>
            </text>
            <path
              :d="`M${LABEL - 4} ${mid(at)}H${LABEL + mid(at)}V${height - 4}`"
              class="thread"
              :style="{ stroke: colour(topics[topic]?.dye ?? topic) }" />
          </g>
          <Mark
            v-for="{ pair, x, y } in knots"
            :key="`${pair.one} ${pair.other}`"
            :said="said(pair)"
            :evidence="evidence(pair)"
            @pick="emit('pick', pair)">
            <rect :x="x - cell / 2" :y="y - cell / 2" :width="cell" :height="cell" class="target" />
            <template v-if="pair.sure">
              <circle :cx="x" :cy="y" :r="radius(pair)" :class="pair.more ? 'more' : 'less'" />
              <text v-if="cell > 15" :x="x" :y="y + 4" text-anchor="middle" :class="pair.more ? 'sign' : 'open'">
                {{ pair.more ? '+' : '−' }}
              </text>
            </template>
            <circle v-else :cx="x" :cy="y" r="1.6" class="unsure" />
          </Mark>
        </Plot>
      </div>
    </div>
  </ChartFrame>
</template>

<style scoped>
.scroll {
  max-height: 40rem;
  overflow: auto;
}
.name {
  font-size: 11.5px;
  fill: var(--ink);
}
.thread {
  fill: none;
  stroke-width: 1.4;
  opacity: 0.55;
}
.more {
  fill: var(--lichen);
  stroke: var(--raised);
}
.unsure {
  fill: var(--soft);
}
.less {
  fill: var(--paper);
  stroke: var(--weld);
  stroke-width: 2.4;
}
text.sign {
  fill: var(--raised);
  font-weight: 700;
}
text.open {
  fill: var(--weld);
  font-weight: 700;
}
</style>
