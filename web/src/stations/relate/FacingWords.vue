<script setup lang="ts">
import { scaleLinear } from 'd3-scale'
import { computed, ref } from 'vue'

import type { Schemas } from '@/api/client'
import Waiting from '@/frame/Waiting.vue'
import ChartFrame from '@/marks/ChartFrame.vue'
import Mark from '@/marks/Mark.vue'
import Plot from '@/marks/Plot.vue'
import { counted, decimal } from '@/marks/format'

import { times, useGroupWords, wordOf } from './words'

/** Two groups face to face: the words of one to the left of the seam, those of the other to the right. */
const props = defineProps<{ group: number; against: number; settings: Schemas['GroupWordsSettings'] }>()
const LIMIT = 18
const mine = useGroupWords(() => ({ group: props.group, against: props.against, limit: LIMIT }))
const theirs = useGroupWords(() => ({ group: props.against, against: props.group, limit: LIMIT }))
const width = ref(800)
const HIGH = 22
const found = computed(() => (mine.data.value && theirs.data.value ? [mine.data.value, theirs.data.value] : undefined))
const rows = computed(() => Math.max(0, ...(found.value ?? []).map((each) => each.words.length)))
const most = computed(() =>
  Math.max(1, ...(found.value ?? []).flatMap((each) => each.words.map((word) => word.log_odds))),
)
const long = computed(() => scaleLinear([0, most.value], [0, width.value / 2 - 150]))
const marks = computed(() =>
  (found.value ?? []).flatMap((half, side) =>
    half.words.map((word, at) => {
      const way = side === 0 ? -1 : 1
      const seam = width.value / 2
      const end = seam + way * (6 + long.value(word.log_odds))
      return {
        ...word,
        key: `${side}.${word.term}`,
        side,
        y: 26 + at * HIGH,
        seam: seam + way * 6,
        end,
        label: end + way * 10,
        sure: (word.adjusted ?? 1) <= 0.05,
        evidence: wordOf(word.term, half.group, props.settings),
        said: `${word.display}: ${times(word.log_ratio)} in ${half.group}, ${decimal(word.rate, 1)} against ${decimal(word.other_rate, 1)} per 10 000; weighted log odds ${decimal(word.log_odds)}; ${counted(word.units, 'unit')} against ${word.other_units}`,
      }
    }),
  ),
)
const table = computed(() =>
  (found.value ?? []).flatMap((half) =>
    half.words.map((word) => [
      half.group,
      word.display,
      word.rate,
      word.other_rate,
      word.log_ratio,
      word.log_odds,
      word.adjusted ?? null,
    ]),
  ),
)
</script>

<template>
  <ChartFrame
    v-if="found"
    :title="`${found[0].group} and ${found[1].group}, face to face`"
    :note="`length: weighted log odds; a filled knot: told apart by unit. ${found[0].says}`"
    name="face-to-face"
    :header="['group', 'word', 'per 10 000', 'in the other', 'log ratio', 'log odds', 'p adjusted']"
    :rows="table">
    <Plot v-model:width="width" :height="rows * HIGH + 30" label="Words of two groups face to face">
      <text :x="width / 2 - 12" y="12" text-anchor="end" class="head">{{ found[0].group }}</text>
      <text :x="width / 2 + 12" y="12" class="head">{{ found[1].group }}</text>
      <line :x1="width / 2" :x2="width / 2" y1="2" :y2="rows * HIGH + 26" class="seam" />
      <Mark v-for="mark in marks" :key="mark.key" :said="mark.said" :evidence="mark.evidence">
        <rect :x="mark.side ? width / 2 : 0" :y="mark.y - HIGH / 2" :width="width / 2" :height="HIGH" class="target" />
        <path :d="`M${mark.seam} ${mark.y}L${mark.end} ${mark.y}`" :class="{ other: mark.side }" />
        <circle :cx="mark.end" :cy="mark.y" r="4.4" :class="{ other: mark.side, sure: mark.sure }" />
        <text :x="mark.label" :y="mark.y + 5" :text-anchor="mark.side ? 'start' : 'end'" class="word">
          {{ mark.display }} <tspan class="times">{{ times(mark.log_ratio).split(' ')[0] }}</tspan>
        </text>
      </Mark>
    </Plot>
  </ChartFrame>
  <p v-else-if="mine.error.value" class="notice bad">{{ mine.error.value.message }}</p>
  <Waiting v-else what="Comparing two groups" />
</template>

<style scoped>
.head {
  font-family: var(--heading);
  font-size: 14px;
  font-weight: 650;
  fill: var(--ink);
}
.seam {
  stroke: var(--soft);
  stroke-dasharray: 3 3;
}
path {
  fill: none;
  stroke: var(--woad);
  stroke-width: 2.6;
}
circle {
  fill: var(--paper);
  stroke: var(--woad);
  stroke-width: 1.8;
}
.sure {
  fill: var(--woad);
}
path.other,
circle.other {
  stroke: var(--madder);
}
circle.other.sure {
  fill: var(--madder);
}
.word {
  font-family: var(--book);
  font-size: 14px;
  fill: var(--ink);
}
.times {
  font-family: var(--interface);
  font-size: 11px;
  fill: var(--soft);
}
</style>
