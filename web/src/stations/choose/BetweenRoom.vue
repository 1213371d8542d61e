<script setup lang="ts">
import { computed, ref } from 'vue'

import Waiting from '@/frame/Waiting.vue'
import { useEvidence } from '@/frame/evidence'
import ChartFrame from '@/marks/ChartFrame.vue'
import Mark from '@/marks/Mark.vue'
import Plot from '@/marks/Plot.vue'
import Swatch from '@/marks/Swatch.vue'
import { colour, dashOf } from '@/marks/dyes'
import { percent } from '@/marks/format'

import { isAccident, lasting, ordered } from './between'
import { useBetween, useFits, useHow } from './choose'
import { parseNumbers } from './sweep'

/** Ribbons from the topics of one count to those of the next: what splits, merges, comes and goes, and what lasts. */
const { get, set } = useHow()
const { tried } = useFits()
const { select, isSelected } = useEvidence()
const wanted = computed(() => parseNumbers(get('counts')))
const query = useBetween(wanted)
const found = computed(() => query.data.value)
const columns = computed(() => found.value?.columns ?? [])
const order = computed(() => ordered(columns.value, found.value?.ribbons ?? []))
const most = computed(() => Math.max(1, ...columns.value.map((each) => each.of.length)))
const ROW = 26
const height = computed(() => most.value * ROW)
const width = ref(800)
/** Of each column its part of the width is names, and the rest ribbons to the next. */
const step = computed(() => width.value / Math.max(columns.value.length, 1))
const NAMES = 0.68
const roomy = computed(() => step.value > 230)
const row = (column: number, topic: number) => (order.value[column]?.indexOf(topic) ?? 0) * ROW + ROW / 2
const ribbons = computed(() =>
  (found.value?.ribbons ?? []).map((each) => {
    const [from, to] = [columns.value[each.column], columns.value[each.column + 1]]
    const [was, now] = [from.of[each.was], to.of[each.now]]
    const [x, end] = [step.value * (each.column + NAMES), step.value * (each.column + 1)]
    const [y, last] = [row(each.column, each.was), row(each.column + 1, each.now)]
    const middle = (x + end) / 2
    return {
      ...each,
      dye: now.dye,
      evidence: { of_fit: to.identity, other_fit: from.identity, was: each.was, now: each.now },
      path: `M${x} ${y}C${middle} ${y + 3} ${middle} ${last + 3} ${end} ${last}`,
      thick: 2 + 9 * Math.min(each.of_was, each.of_now),
      said: `${was.title} of ${from.topics} to ${now.title} of ${to.topics}: ${percent(each.of_was, 0)} of its tokens, ${percent(each.of_now, 0)} of theirs`,
    }
  }),
)
const rows = computed(() =>
  (found.value?.ribbons ?? []).map((each) => {
    const [from, to] = [columns.value[each.column], columns.value[each.column + 1]]
    return [
      from.topics,
      from.of[each.was].title,
      to.topics,
      to.of[each.now].title,
      each.became,
      each.of_was,
      each.of_now,
    ]
  }),
)
const isShown = (topics: number) => columns.value.some((each) => each.topics === topics)
function toggle(topics: number) {
  const shown = columns.value.map((each) => each.topics)
  const next = isShown(topics) ? shown.filter((each) => each !== topics) : [...shown, topics]
  set({
    counts: next
      .sort((a, b) => a - b)
      .slice(-6)
      .join(','),
  })
}
const ofTopic = (column: number, topic: number) => ({ topic, of_fit: columns.value[column].identity })
</script>

<template>
  <p v-if="query.error.value" class="notice bad">{{ query.error.value.message }}</p>
  <Waiting v-else-if="!found" what="Matching the topics of these counts" />
  <p v-else-if="!columns.length" class="soft">No fit has been made of this matrix yet. Start a sweep at Counts.</p>
  <template v-else>
    <div class="row wrap" role="group" aria-label="Counts side by side">
      <span class="soft small">counts</span>
      <label v-for="each in tried" :key="each"
        ><input type="checkbox" :checked="isShown(each)" @change="toggle(each)" /> {{ each }}</label
      >
    </div>
    <ChartFrame
      title="What happens to topics"
      note="a ribbon carries most of a topic’s tokens; each column is the steadiest fit of its count"
      name="between-counts"
      :header="['topics', 'topic', 'then', 'topic then', 'became', 'share of the first', 'share of the second']"
      :rows="rows">
      <div class="heads" :style="{ gridTemplateColumns: `repeat(${columns.length}, minmax(0, 1fr))` }">
        <h3 v-for="each in columns" :key="each.topics" :class="{ candidate: each.candidate }">
          {{ each.topics }}
          <small class="soft" title="the fit most like all others of its count">seed {{ each.seed }}</small>
        </h3>
      </div>
      <div class="cloth" :class="{ waiting: query.isPlaceholderData.value }" :style="{ height: `${height}px` }">
        <Plot v-model:width="width" :height="height" label="Ribbons from the topics of one count to the next">
          <Mark
            v-for="each in ribbons"
            :key="`${each.column} ${each.was} ${each.now}`"
            :said="each.said"
            :evidence="each.evidence">
            <path
              :d="each.path"
              class="ribbon"
              :style="{ stroke: colour(each.dye), strokeWidth: each.thick }"
              :stroke-dasharray="each.became === 'same' ? '' : dashOf(each.dye) || '7 3'" />
            <path :d="each.path" class="target" :style="{ strokeWidth: Math.max(8, each.thick) }" />
          </Mark>
        </Plot>
        <template v-for="(column, at) in columns" :key="column.topics">
          <button
            v-for="topic in column.of"
            :key="topic.topic"
            class="plain topic"
            :class="{ selected: isSelected(ofTopic(at, topic.topic)), accident: isAccident(topic) }"
            :style="{
              left: `${step * at}px`,
              width: `${step * NAMES}px`,
              top: `${row(at, topic.topic) - ROW / 2}px`,
              height: `${ROW}px`,
            }"
            :title="`${topic.words.join(' ')}: found ${lasting(topic)}`"
            @click="select(ofTopic(at, topic.topic))">
            <Swatch :dye="topic.dye" :size="14" />
            <span class="cut grow" :class="topic.empty ? 'soft' : 'book'">{{ topic.title }}</span>
            <small v-if="roomy && topic.fits && !topic.empty" class="numbers soft"
              >{{ topic.found }}/{{ topic.fits }}</small
            >
          </button>
        </template>
      </div>
    </ChartFrame>
    <p class="soft small key">
      <template v-if="roomy"
        >Beside a topic: in how many of the other fits it is found, from the count on that finds it in most of its
        seeds. </template
      >In madder, struck through: a topic that no count finds in most of its seeds.
    </p>
    <ul class="said book">
      <li v-for="each in found.said" :key="each">{{ each }}</li>
    </ul>
  </template>
</template>

<style scoped>
.heads {
  display: grid;
}
.heads h3 {
  margin: 0;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.candidate {
  color: var(--lichen);
}
.cloth {
  position: relative;
}
.ribbon {
  fill: none;
  opacity: 0.45;
}
.mark:hover .ribbon,
.selected .ribbon {
  opacity: 0.85;
}
.target {
  fill: none;
}
:deep(.mark:hover .target),
:deep(.mark.selected .target) {
  fill: none;
}
.topic {
  position: absolute;
  display: flex;
  gap: 0.35rem;
  align-items: center;
  padding: 0 0.15rem;
  min-height: 0;
  font-size: 0.85rem;
}
.topic:hover,
.topic.selected {
  background: var(--woad-wash);
}
.accident .cut {
  color: var(--madder);
  text-decoration: line-through;
}
.key {
  margin: 0;
}
.said {
  margin: 0;
  padding-left: 1.1rem;
}
.waiting {
  opacity: 0.7;
}
</style>
