<script setup lang="ts">
import { computed, ref } from 'vue'

import type { Schemas } from '@/api/client'
import Mark from '@/marks/Mark.vue'
import Plot from '@/marks/Plot.vue'
import { colour } from '@/marks/dyes'
import { percent } from '@/marks/format'

import { hang } from './cloud'

/** The words of a topic hung on threads of its dye, larger where they are more probable. */
const props = defineProps<{ words: Schemas['RankedWord'][]; dye: number; topic: number }>()
const emit = defineEmits<{ pick: [string] }>()
const width = ref(240)
const ready = ref(0)
document.fonts?.ready.then(() => ready.value++)
const pen = document.createElement('canvas').getContext('2d')
/** As wide as the book face writes it. */
function measured(text: string, size: number) {
  if (!pen) return undefined
  pen.font = `${size}px ${getComputedStyle(document.documentElement).getPropertyValue('--book')}`
  return pen.measureText(text).width
}
const cloud = computed(() => hang(props.words, width.value - 4, ready.value >= 0 ? measured : undefined))
const base = computed(() => {
  let y = 0
  return cloud.value.lines.map((size) => (y += size + 7))
})
const height = computed(() => (base.value[base.value.length - 1] ?? 0) + 10)
const thread = (y: number) => `M0 ${y + 5}c${width.value / 3} -4 ${(2 * width.value) / 3} 4 ${width.value} 0`
</script>

<template>
  <Plot v-model:width="width" :height="height" :label="`Words of topic ${topic + 1}`">
    <path v-for="(y, at) in base" :key="at" :d="thread(y)" class="thread" :style="{ stroke: colour(dye) }" />
    <Mark
      v-for="each in cloud.hung"
      :key="each.word.term"
      :said="`${each.word.display}: ${percent(each.word.share)} of the topic, ${percent(each.word.own, 0)} its own`"
      :evidence="{ topic, holding: each.word.term }"
      @pick="emit('pick', each.word.term)">
      <rect :x="each.x" :y="base[each.line] - each.size" :width="each.width" :height="each.size + 5" class="target" />
      <text :x="each.x" :y="base[each.line]" :style="{ fontSize: `${each.size}px` }">
        {{ each.word.display }}
      </text>
      <circle
        :cx="each.x + each.width / 2"
        :cy="base[each.line] + 5"
        :r="0.8 + 1.9 * each.word.own"
        :style="{ fill: colour(dye) }" />
    </Mark>
  </Plot>
</template>

<style scoped>
text {
  font-family: var(--book);
  fill: var(--ink) !important;
}
.thread {
  fill: none;
  stroke-width: 1.2;
  opacity: 0.6;
}
</style>
