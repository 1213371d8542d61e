<script setup lang="ts">
import { scaleLinear } from 'd3-scale'
import { computed } from 'vue'

import ChartFrame from './ChartFrame.vue'
import { count, counted } from './format'
import { useWidth } from './size'
import ValueAxis from './ValueAxis.vue'

interface Bar {
  label: string
  said: string
  count: number
  selected: boolean
}
const props = defineProps<{ title: string; note: string; name: string; bars: Bar[] }>()
defineEmits<{ pick: [number] }>()
const width = useWidth()
const HEIGHT = 110
const FOOT = 18
const step = computed(() => (width.value - 44) / Math.max(props.bars.length, 1))
const y = computed(() => {
  const most = Math.max(1, ...props.bars.map((bar) => bar.count))
  return scaleLinear([0, most], [HEIGHT - FOOT, 6])
})
const every = computed(() => Math.ceil(52 / step.value))
const rows = computed(() => props.bars.map((bar) => [bar.label, bar.count]))
</script>

<template>
  <ChartFrame :title="title" :note="note" :name="name" :header="['bin', 'documents']" :rows="rows">
    <div ref="chart">
      <svg :width="width" :height="HEIGHT" role="group" :aria-label="title">
        <ValueAxis :scale="y" :ticks="3" :left="40" :right="width" :say="count" />
        <g v-for="(bar, at) in bars" :key="bar.label">
          <rect
            :x="42 + at * step + step * 0.1"
            :y="y(bar.count)"
            :width="step * 0.8"
            :height="HEIGHT - FOOT - y(bar.count)"
            class="column"
            :class="{ selected: bar.selected }" />
          <rect
            :x="42 + at * step"
            y="0"
            :width="step"
            :height="HEIGHT - FOOT"
            class="target"
            data-mark
            role="button"
            :tabindex="at === 0 ? 0 : -1"
            :aria-label="`${bar.said}: ${counted(bar.count, 'document')}`"
            @click="$emit('pick', at)"
            @keydown.enter="$emit('pick', at)">
            <title>{{ bar.said }}: {{ counted(bar.count, 'document') }}</title>
          </rect>
          <text
            v-if="at % every === 0 && 42 + at * step + step / 2 + 24 < width"
            :x="42 + at * step + step / 2"
            :y="HEIGHT - 4"
            text-anchor="middle">
            {{ bar.label }}
          </text>
        </g>
      </svg>
    </div>
  </ChartFrame>
</template>

<style scoped>
.column {
  fill: var(--woad);
}
.column.selected {
  fill: var(--weld);
}
.target {
  fill: transparent;
  cursor: pointer;
}
.target:hover {
  fill: var(--woad-wash);
}
</style>
