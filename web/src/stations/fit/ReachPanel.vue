<script setup lang="ts">
import Button from 'primevue/button'
import { scaleLinear } from 'd3-scale'
import { computed, ref, watch } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { strandPath, useStrand, useStrandChange, useStrandQuery } from '@/api/strand'
import { useTopics } from '@/api/topics'
import { useEvidence } from '@/frame/evidence'
import BaseAxis from '@/marks/BaseAxis.vue'
import ChartFrame from '@/marks/ChartFrame.vue'
import Plot from '@/marks/Plot.vue'
import Swatch from '@/marks/Swatch.vue'
import ValueAxis from '@/marks/ValueAxis.vue'
import { count, counted, decimal } from '@/marks/format'

import { useFit } from './fit'

/** How far topics reach: which outliers come in, how far they are, what words become; and nearest topics as one. */
const { ply } = useStrand()
const { found: fit, job } = useFit()
const { label, dye, topics } = useTopics()
const { select, read } = useEvidence()
type Settings = Schemas['ClustersSettings']
const settings = computed(() => fit.value?.settings as Settings | undefined)
/** The dial, from -1: no reach. */
const reach = ref(-1)
const most = ref(0)
watch(
  () => fit.value?.identity,
  () => {
    reach.value = settings.value?.reach ?? -1
    most.value = topics.value.length
  },
  { immediate: true },
)
watch(topics, (now) => (most.value = now.length))
const asked = computed(() => (reach.value < 0 ? undefined : reach.value))
const effect = useStrandQuery(
  'reach',
  () => [ply('fit')?.identity, asked.value],
  (id) =>
    ask(
      client.GET('/api/strands/{strand_id}/by-vector/reach', {
        params: { ...strandPath(id), query: { reach: asked.value } },
      }),
    ),
  () => !!ply('fit')?.identity,
)
const found = computed(() => effect.data.value)
const merged = useStrandQuery(
  'merged down',
  () => [ply('fit')?.identity, most.value],
  (id) =>
    ask(
      client.GET('/api/strands/{strand_id}/by-vector/merged', {
        params: { ...strandPath(id), query: { topics: most.value } },
      }),
    ),
  () => most.value > 1 && most.value < topics.value.length,
)
const together = computed(() => (most.value < topics.value.length ? merged.data.value : undefined))
const width = ref(520)
const HEIGHT = 150
const FOOT = 20
const LEFT = 40
const far = computed(() => found.value?.edges.at(-1) ?? 1)
const x = computed(() => scaleLinear([0, far.value], [LEFT, width.value - 6]))
const y = computed(() => scaleLinear([0, Math.max(1, ...(found.value?.bars ?? []))], [HEIGHT - FOOT, 8]))
const bars = computed(() =>
  (found.value?.bars ?? []).map((n, at) => ({ n, from: found.value!.edges[at], to: found.value!.edges[at + 1] })),
)
const places = computed(() => x.value.ticks(6).map((tick) => ({ at: x.value(tick), label: decimal(tick, 1) })))
const changed = computed(
  () =>
    asked.value !== (settings.value?.reach ?? undefined) ||
    (most.value !== topics.value.length && most.value !== settings.value?.topics),
)
const start = useStrandChange((strandId, body: Settings) =>
  ask(client.POST('/api/strands/{strand_id}/fits', { params: strandPath(strandId), body })),
)
const apply = () =>
  start.mutate({
    ...settings.value!,
    reach: asked.value ?? null,
    topics: most.value < topics.value.length ? most.value : settings.value!.topics,
  })
const MOST = 60
const asFound = () => start.mutate({ ...settings.value!, reach: null, topics: MOST })
const isNew = (word: string, before: string[]) => !before.includes(word)
</script>

<template>
  <section v-if="found && settings" class="reach">
    <ChartFrame
      title="Outliers by their distance to the nearest topic"
      :note="`cosine distance to its centre, of ${counted(found.outliers, 'outlier')}`"
      name="reach"
      :header="['from', 'to', 'documents']"
      :rows="bars.map((each) => [each.from, each.to, each.n])">
      <Plot v-model:width="width" :height="HEIGHT" label="Outliers by their distance to the nearest centre">
        <ValueAxis :scale="y" :ticks="3" :left="LEFT - 2" :right="width" :say="count" />
        <rect
          v-for="bar in bars"
          :key="bar.from"
          :x="x(bar.from) + 0.5"
          :y="y(bar.n)"
          :width="Math.max(0.5, x(bar.to) - x(bar.from) - 1)"
          :height="HEIGHT - FOOT - y(bar.n)"
          :class="bar.to <= reach + 1e-9 ? 'inside' : 'outside'" />
        <line
          v-if="reach >= 0"
          :x1="x(Math.min(reach, far))"
          :x2="x(Math.min(reach, far))"
          y1="2"
          :y2="HEIGHT - FOOT" />
        <BaseAxis :places="places" :y="HEIGHT - 5" :right="width" />
      </Plot>
    </ChartFrame>
    <div class="row wrap dials">
      <label class="dial"
        ><span
          >reach <b class="numbers">{{ reach < 0 ? 'none' : decimal(reach) }}</b></span
        >
        <input
          v-model.number="reach"
          type="range"
          min="-0.01"
          :max="Math.ceil(100 * far) / 100"
          step="0.01"
          aria-label="Reach" />
      </label>
      <label
        >topics
        <input v-model.number="most" type="number" min="2" :max="topics.length" aria-label="Topics to merge down to" />
      </label>
      <Button
        size="small"
        label="Take it"
        :disabled="!changed || !!job"
        :loading="start.isPending.value || !!job"
        @click="apply" />
      <button
        v-if="settings.reach !== null || settings.topics < MOST"
        class="plain link small"
        :disabled="!!job"
        @click="asFound">
        Back to the topics as they were found
      </button>
    </div>
    <p aria-live="polite">
      {{ found.says }}.
      <button class="plain link small" @click="select({ outliers: true })">See those in no topic now</button>
    </p>
    <p v-if="together" class="small">
      {{ together.says }}:
      <span v-for="group in together.groups" :key="group.join()" class="group">
        <template v-for="(topic, at) in group" :key="topic"
          >{{ at ? ' + ' : '' }}<Swatch :dye="dye(topic)" /> {{ label(topic) }}</template
        >
      </span>
    </p>
    <div class="scroll">
      <table>
        <thead>
          <tr>
            <th>topic</th>
            <th class="figure">found</th>
            <th class="figure">come in</th>
            <th>its words{{ found.comes_in ? '; new ones among them underlined' : '' }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="each in found.topics" :key="each.topic">
            <td>
              <button class="plain name" @click="select({ topic: each.topic })">
                <Swatch :dye="dye(each.topic)" /> {{ label(each.topic) }}
              </button>
            </td>
            <td class="figure numbers">{{ count(each.found) }}</td>
            <td class="figure numbers">{{ each.comes_in ? `+${count(each.comes_in)}` : '' }}</td>
            <td class="book">
              <template v-for="(word, at) in each.becomes" :key="word"
                >{{ at ? ' ' : '' }}<span :class="{ fresh: isNew(word, each.words) }">{{ word }}</span></template
              >
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <template v-if="found.edge.length">
      <h2>The furthest that come in</h2>
      <ol class="edge">
        <li v-for="each in found.edge" :key="each.document">
          <button class="plain link" @click="read(each.document)">{{ each.name }}</button>
          <span class="soft small cut">{{ each.brief }}</span>
          <span class="small"><Swatch :dye="dye(each.topics[0].topic)" /> {{ label(each.topics[0].topic) }}</span>
          <span class="numbers small">{{ decimal(1 - each.topics[0].cosine) }}</span>
        </li>
      </ol>
    </template>
  </section>
</template>

<style scoped>
.reach {
  display: grid;
  gap: 0.6rem;
}
.dials {
  gap: 0.5rem 1.4rem;
  align-items: end;
}
.dial {
  display: grid;
  flex-basis: 100%;
}
/* Under the axis, so that its knob is where the line is. */
.dial input {
  margin: 0 0 0 32px;
  width: calc(100% - 30px);
}
.inside {
  fill: var(--woad);
}
.outside {
  fill: var(--line-strong, var(--soft));
  opacity: 0.55;
}
line {
  stroke: var(--madder);
  stroke-width: 2;
}
.group + .group::before {
  content: '; ';
}
.name {
  display: inline-flex;
  gap: 0.4rem;
  align-items: center;
}
.fresh {
  text-decoration: underline;
  text-decoration-color: var(--madder);
  text-underline-offset: 3px;
}
.scroll {
  overflow-x: auto;
}
table {
  width: 100%;
  border-collapse: collapse;
}
th,
td {
  text-align: left;
  padding: 0.2rem 0.6rem 0.2rem 0;
  border-bottom: 1px solid var(--line);
}
.figure {
  text-align: right;
}
.edge {
  list-style: none;
  padding: 0;
  margin: 0;
}
.edge li {
  display: grid;
  grid-template-columns: 4rem minmax(0, 1fr) 12rem 3rem;
  gap: 0.6rem;
  padding: 0.15rem 0;
  border-bottom: 1px solid var(--line);
}
</style>
