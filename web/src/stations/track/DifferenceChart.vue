<script setup lang="ts">
import { scaleLinear } from 'd3-scale'
import { computed, ref } from 'vue'

import type { DifferenceTable } from '@/api/prevalence'
import { useTopics } from '@/api/topics'
import BaseAxis from '@/marks/BaseAxis.vue'
import ChartFrame from '@/marks/ChartFrame.vue'
import Mark from '@/marks/Mark.vue'
import Plot from '@/marks/Plot.vue'
import { patternId } from '@/marks/dyes'
import { counted } from '@/marks/format'

import { chance, points } from './prevalence'

/** How much more or less of a topic a group holds than all others together: estimate and interval about none. */
const props = defineProps<{ table: DifferenceTable; topics: number[] }>()
const { label, dye } = useTopics()
const width = ref(800)
const ROW = 24
const LEFT = 290
const RIGHT = 200
const MOST = 40
const CLEAR = 0.05
const all = computed(() => props.table.differences.filter((each) => props.topics.includes(each.topic)))
const shown = computed(() => all.value.slice(0, MOST))
const far = computed(() => Math.max(0.01, ...shown.value.flatMap((each) => [Math.abs(each.low), Math.abs(each.high)])))
const x = computed(() => scaleLinear([-far.value, far.value], [LEFT, width.value - RIGHT]))
const places = computed(() =>
  x.value.ticks(5).map((tick) => ({ at: x.value(tick), label: tick ? points(tick) : 'none', strong: !tick })),
)
const foot = computed(() => shown.value.length * ROW)
const bars = computed(() =>
  shown.value.map((each, at) => {
    const sure = each.adjusted < CLEAR
    return {
      ...each,
      key: `${each.group} ${each.topic}`,
      y: at * ROW,
      sure,
      interval: `${points(each.difference)} (${points(each.low)} to ${points(each.high)})`,
      evidence: { topic: each.topic, field: props.table.group, value: each.group },
    }
  }),
)
const rows = computed(() =>
  all.value.map((each) => [each.group, label(each.topic), each.difference, each.low, each.high, each.p, each.adjusted]),
)
const units = computed(() => (props.table.unit ? `values of ${props.table.unit}` : 'documents'))
const note = computed(
  () =>
    `points of a hundred, 95 % interval over ${units.value}; p where the interval just holds none, adjusted over ${counted(props.table.compared, 'comparison')}` +
    (all.value.length > MOST ? `; the clearest ${MOST} of ${all.value.length}` : ''),
)
</script>

<template>
  <ChartFrame
    :title="`Each ${table.group} against all others`"
    :note="note"
    name="differences"
    :header="[table.group, 'topic', 'difference', 'low', 'high', 'p', 'p adjusted']"
    :rows="rows">
    <Plot v-model:width="width" :height="foot + 20" label="Differences between groups">
      <BaseAxis :places="places" :y="foot + 14" :grid="0" />
      <line :x1="x(0)" :x2="x(0)" y1="0" :y2="foot" class="none" />
      <Mark
        v-for="bar in bars"
        :key="bar.key"
        :said="`${label(bar.topic)}, ${bar.group} against all others: ${bar.interval}, ${chance(bar.adjusted)}`"
        :evidence="bar.evidence">
        <rect x="0" :y="bar.y" :width="width" :height="ROW" class="target" />
        <rect x="0" :y="bar.y + 5" width="13" height="13" :fill="`url(#${patternId(dye(bar.topic))})`" />
        <text x="20" :y="bar.y + 16" :class="{ sure: bar.sure }">
          {{ bar.group }} <tspan class="topic">{{ label(bar.topic) }}</tspan>
        </text>
        <line
          :x1="x(bar.low)"
          :x2="x(bar.high)"
          :y1="bar.y + 12"
          :y2="bar.y + 12"
          class="whisker"
          :class="{ more: bar.sure && bar.difference > 0, less: bar.sure && bar.difference < 0 }" />
        <circle
          :cx="x(bar.difference)"
          :cy="bar.y + 12"
          r="4"
          class="dot"
          :class="{ more: bar.sure && bar.difference > 0, less: bar.sure && bar.difference < 0 }" />
        <text :x="width - RIGHT + 12" :y="bar.y + 16" :class="{ sure: bar.sure }">
          {{ bar.interval }}
          <tspan class="topic">{{ chance(bar.adjusted) }}</tspan>
        </text>
      </Mark>
    </Plot>
  </ChartFrame>
</template>

<style scoped>
text {
  font-size: 12px;
  fill: var(--soft);
}
.sure {
  fill: var(--ink);
  font-weight: 650;
}
.topic {
  fill: var(--soft);
  font-weight: 400;
}
.none {
  stroke: var(--ink);
}
.whisker {
  stroke: var(--soft);
  stroke-width: 1.6;
}
.dot {
  fill: var(--paper);
  stroke: var(--soft);
  stroke-width: 1.6;
}
.whisker.more {
  stroke: var(--lichen);
  stroke-width: 2.4;
}
.whisker.less {
  stroke: var(--weld);
  stroke-width: 2.4;
}
.dot.more {
  fill: var(--lichen);
  stroke: var(--lichen);
}
.dot.less {
  fill: var(--weld);
  stroke: var(--weld);
}
</style>
