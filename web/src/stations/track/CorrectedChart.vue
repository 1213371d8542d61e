<script setup lang="ts">
import { scaleLinear } from 'd3-scale'
import { computed, ref, watch } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import type { Period } from '@/api/prevalence'
import { strandPath, useStrandQuery } from '@/api/strand'
import { useChecks, useTopics } from '@/api/topics'
import Waiting from '@/frame/Waiting.vue'
import BaseAxis from '@/marks/BaseAxis.vue'
import ChartFrame from '@/marks/ChartFrame.vue'
import Mark from '@/marks/Mark.vue'
import Plot from '@/marks/Plot.vue'
import { colour } from '@/marks/dyes'
import { percent, period as periodName } from '@/marks/format'

/** How common a concept is by group or period, corrected by what people coded, beside the topic as it stands. */
const props = defineProps<{ group?: string; period?: Period; unit?: string }>()
const { dye, label } = useTopics()
const checks = useChecks()
const coded = computed(() =>
  (checks.data.value?.checks ?? []).filter((each) => each.concept && each.result.precision?.value),
)
const chosen = ref<number>()
const on = ref(false)
watch(coded, (all) => (chosen.value = all.some((each) => each.id === chosen.value) ? chosen.value : all[0]?.id), {
  immediate: true,
})
const query = useStrandQuery(
  'corrected',
  () => [chosen.value, props.group, props.period, props.unit],
  (id) =>
    ask(
      client.GET('/api/strands/{strand_id}/corrected', {
        params: {
          ...strandPath(id),
          query: { check: chosen.value ?? 0, group: props.group, period: props.period, unit: props.unit },
        },
      }),
    ),
  () => on.value && chosen.value !== undefined,
)
const found = computed(() => query.data.value)
const width = ref(760)
const ROW = 30
const MOST = 60
const cells = computed(() => (found.value?.cells ?? []).slice(0, MOST))
const top = computed(() =>
  Math.max(0.02, ...cells.value.flatMap((each) => [each.about?.high ?? each.about?.mean ?? 0, each.holds?.mean ?? 0])),
)
const LEFT = 190
const x = computed(() => scaleLinear([0, top.value], [LEFT, width.value - 90]))
const places = computed(() => x.value.ticks(5).map((tick) => ({ at: x.value(tick), label: percent(tick, 0) })))
const name = (cell: Schemas['CorrectedCell']) =>
  [cell.group, cell.period && periodName(cell.period)].filter(Boolean).join(', ') || 'All documents'
const said = (cell: Schemas['CorrectedCell']) =>
  `${name(cell)}: ${percent(cell.about?.mean ?? 0)} about it` +
  (cell.about?.low === null || cell.about?.low === undefined
    ? ', too few units for an interval'
    : `, ${percent(cell.about.low)} to ${percent(cell.about.high ?? 1)}`) +
  `; ${percent(cell.holds?.mean ?? 0)} hold the topic`
const rows = computed(() =>
  (found.value?.cells ?? []).map((each) => [
    each.group,
    each.period,
    each.about?.mean ?? null,
    each.about?.low ?? null,
    each.about?.high ?? null,
    each.certain?.low ?? null,
    each.certain?.high ?? null,
    each.holds?.mean ?? null,
    each.documents,
  ]),
)
const HEADER = [
  'group',
  'period',
  'about it',
  'low',
  'high',
  'low if coding were sure',
  'high if it were',
  'hold the topic',
  'documents',
]
const evidence = (cell: Schemas['CorrectedCell']) => ({
  topic: found.value?.topic ?? 0,
  ...(cell.group ? { field: props.group, value: cell.group } : {}),
  ...(cell.period ? { period: props.period, at: cell.period } : {}),
})
</script>

<template>
  <section v-if="coded.length" aria-label="Corrected by hand coding">
    <p class="row wrap small">
      <label><input v-model="on" type="checkbox" /> corrected by hand coding</label>
      <select v-if="on && coded.length > 1" v-model.number="chosen" aria-label="Coding">
        <option v-for="each in coded" :key="each.id" :value="each.id">{{ each.concept }}</option>
      </select>
    </p>
    <template v-if="on">
      <p v-if="query.error.value" class="notice bad">{{ query.error.value.message }}</p>
      <Waiting v-else-if="!found" what="Correcting by what was coded" />
      <template v-else>
        <ChartFrame
          :title="`Documents about ${found.concept}`"
          :note="`dot and whisker: corrected, 95 %, thick were coding sure; ring: hold ${label(found.topic)}`"
          name="corrected"
          :header="HEADER"
          :rows="rows">
          <Plot v-model:width="width" :height="cells.length * ROW + 20" label="Corrected prevalence">
            <BaseAxis :places="places" :y="cells.length * ROW + 14" :grid="0" />
            <Mark v-for="(cell, at) in cells" :key="name(cell)" :said="said(cell)" :evidence="evidence(cell)">
              <rect x="0" :y="at * ROW" :width="width" :height="ROW" class="target" />
              <text :x="LEFT - 10" :y="at * ROW + 19" text-anchor="end" class="name">{{ name(cell) }}</text>
              <template v-if="cell.about">
                <line
                  v-if="cell.about.low !== null && cell.about.high !== null"
                  :x1="x(cell.about.low)"
                  :x2="x(cell.about.high)"
                  :y1="at * ROW + 15"
                  :y2="at * ROW + 15"
                  class="whisker" />
                <line
                  v-if="cell.certain?.low !== null && cell.certain?.high !== null && cell.certain"
                  :x1="x(cell.certain.low ?? 0)"
                  :x2="x(cell.certain.high ?? 0)"
                  :y1="at * ROW + 15"
                  :y2="at * ROW + 15"
                  class="sure"
                  :style="{ stroke: colour(dye(found.topic)) }" />
                <circle
                  :cx="x(cell.about.mean)"
                  :cy="at * ROW + 15"
                  r="5"
                  :style="{ fill: colour(dye(found.topic)) }" />
                <circle
                  v-if="cell.holds"
                  :cx="x(cell.holds.mean)"
                  :cy="at * ROW + 15"
                  r="5"
                  class="ring"
                  :style="{ stroke: colour(dye(found.topic)) }" />
              </template>
              <text :x="width - 4" :y="at * ROW + 19" text-anchor="end">n {{ cell.documents }}</text>
            </Mark>
          </Plot>
        </ChartFrame>
        <p v-for="each in found.says" :key="each" class="soft small">{{ each }}</p>
      </template>
    </template>
  </section>
</template>

<style scoped>
.name {
  font-size: 12.5px;
  fill: var(--ink);
}
.whisker {
  stroke: var(--ink);
  stroke-width: 1.4;
}
.sure {
  stroke-width: 5;
  opacity: 0.45;
}
.ring {
  fill: none;
  stroke-width: 2;
  stroke-dasharray: 2.5 2;
}
p {
  margin: 0.2rem 0;
}
</style>
