<script setup lang="ts">
import { extent } from 'd3-array'
import { scaleLinear, scalePoint } from 'd3-scale'
import { computed, ref } from 'vue'

import type { Schemas } from '@/api/client'
import BandLine from '@/marks/BandLine.vue'
import BaseAxis from '@/marks/BaseAxis.vue'
import Plot from '@/marks/Plot.vue'
import Points from '@/marks/Points.vue'
import ValueAxis from '@/marks/ValueAxis.vue'
import { counted, decimal } from '@/marks/format'

import { spread } from './counts'

/** Measures one above the other over the number of groups, each beside its shuffled twin. */
const props = defineProps<{ counts: number[]; measures: Schemas['CountMeasure'][] }>()
const emit = defineEmits<{ pick: [number] }>()
const width = ref(800)
const LEFT = 228
const PANEL = 96
const GAP = 18
const height = computed(() => props.measures.length * (PANEL + GAP) + 22)
const x = computed(() => scalePoint<number>(props.counts, [LEFT + 10, width.value - 16]).padding(0.3))
const at = (groups: number) => x.value(groups) ?? 0
const panels = computed(() =>
  props.measures.map((measure, index) => {
    const [low, high] = extent([...measure.values.flat(), ...measure.twin.flat()]) as [number, number]
    const room = Math.max((high - low) * 0.1, 1e-3)
    const top = index * (PANEL + GAP)
    const y = scaleLinear([low - room, high + room], [top + PANEL, top + 6])
    const line = (values: number[][]) =>
      spread(values).map((each, place) => ({
        x: at(props.counts[place]),
        y: y(each.mean),
        low: y(each.low),
        high: y(each.high),
      }))
    return {
      ...measure,
      top,
      y,
      digits: high - low > 10 ? 0 : 2,
      line: line(measure.values),
      chance: line(measure.twin),
      points: measure.values.flatMap((row, place) =>
        row.map((value, seed) => ({
          key: `${props.counts[place]}.${seed}`,
          x: at(props.counts[place]),
          y: y(value),
          said: `${counted(props.counts[place], 'group')}: ${measure.title.toLowerCase()} ${decimal(value, 3)}, dealt out at random ${decimal(measure.twin[place][seed], 3)}`,
          colour: props.counts[place] === measure.suggested ? 'var(--lichen)' : 'var(--ink)',
          faint: props.counts[place] !== measure.suggested,
        })),
      ),
    }
  }),
)
const suggested = computed(() => new Set(props.measures.map((each) => each.suggested)))
const places = computed(() =>
  props.counts.map((groups) => ({ at: at(groups), label: String(groups), strong: suggested.value.has(groups) })),
)
</script>

<template>
  <Plot v-model:width="width" :height="height" label="Measures over the number of groups">
    <g v-for="panel in panels" :key="panel.key">
      <rect
        v-if="panel.suggested"
        :x="at(panel.suggested) - 13"
        :y="panel.top"
        width="26"
        :height="PANEL"
        class="suggested" />
      <text x="0" :y="panel.top + 16" class="title">{{ panel.title }}</text>
      <foreignObject x="0" :y="panel.top + 20" :width="LEFT - 50" :height="PANEL - 8"
        ><p class="note">
          {{ panel.about }}. <b>{{ panel.says }}</b>
        </p></foreignObject
      >
      <line :x1="LEFT" :x2="width" :y1="panel.top + PANEL" :y2="panel.top + PANEL" class="grid" />
      <ValueAxis
        :scale="panel.y"
        :ticks="3"
        :left="LEFT"
        :right="width"
        :say="(tick) => decimal(tick, panel.digits)"
        bare />
      <BandLine :points="panel.chance" colour="var(--soft)" dash="2 3" />
      <BandLine :points="panel.line" colour="var(--woad)" />
      <Points
        :points="panel.points"
        :width="width"
        :height="PANEL"
        :top="panel.top"
        @pick="emit('pick', Number($event.split('.')[0]))" />
    </g>
    <BaseAxis :places="places" :y="height - 4" :room="24" />
  </Plot>
</template>

<style scoped>
.title {
  font-family: var(--heading);
  font-size: 15px;
  font-weight: 650;
  fill: var(--ink);
}
.note {
  margin: 0;
  font-size: 11.5px;
  color: var(--soft);
  line-height: 1.3;
}
.note b {
  font-weight: 600;
  color: var(--ink);
}
.suggested {
  fill: var(--lichen-wash);
}
</style>
