<script setup lang="ts">
import { computed } from 'vue'

import type { StreamTopic, Streams } from '@/api/apart'
import { useTopics } from '@/api/topics'
import { colour } from '@/marks/dyes'
import { percent } from '@/marks/format'

import { BAND, columnWidth, layOut } from './streams'

/** Topics as threads through periods, as wide as their shares; a ring where one is born, a frayed end where one ends. */
const props = defineProps<{ found: Streams; selected?: StreamTopic }>()
const emit = defineEmits<{ pick: [StreamTopic] }>()
const { dye } = useTopics()
const [HEIGHT, TOP, BESIDE] = [430, 22, 150]
const laid = computed(() => layOut(props.found, HEIGHT))
const happens = computed(
  () => new Map(props.found.happenings.map((each) => [`${each.period} ${each.own} ${each.kind}`, each])),
)
const of = (topic: StreamTopic, kind: string) => happens.value.get(`${topic.period} ${topic.own} ${kind}`)
const column = computed(() => columnWidth(props.found.periods.length))
const said = (topic: StreamTopic) =>
  [
    `${props.found.periods[topic.period].said}: ${topic.title}, ${percent(topic.share)}`,
    ...['born', 'ended', 'split', 'merged'].flatMap((kind) => of(topic, kind)?.says ?? []),
  ].join('; ')
</script>

<template>
  <div class="scroll" tabindex="0" role="group" aria-label="Periods">
    <svg :width="laid.width + BESIDE + 24" :height="HEIGHT + TOP + 6" role="group" aria-label="Streams of topics">
      <text v-for="(each, at) in found.periods" :key="each.name" :x="BESIDE + at * column" y="12" class="period">
        {{ each.said }}
      </text>
      <g :transform="`translate(${BESIDE}, ${TOP})`">
        <path
          v-for="each in laid.ribbons"
          :key="`${each.thread.period} ${each.thread.before} ${each.thread.after}`"
          :d="each.path"
          :fill="colour(dye(each.whole))"
          :class="{ doubtful: !each.thread.sure, grew: each.thread.grew }">
          <title>
            {{ percent(each.thread.of_before) }} of the one, {{ percent(each.thread.of_after) }} of the other; by
            {{ Math.round(100 * each.thread.held) }} % of the seeds; {{ each.thread.times.toFixed(2) }} times its share
          </title>
        </path>
        <g
          v-for="each in laid.bands"
          :key="`${each.topic.period} ${each.topic.own}`"
          data-mark
          tabindex="-1"
          role="button"
          :aria-label="said(each.topic)"
          @click="emit('pick', each.topic)"
          @keydown.enter="emit('pick', each.topic)">
          <title>{{ said(each.topic) }}</title>
          <rect :x="each.x - 4" :y="each.y - 2" :width="BAND + 8" :height="each.height + 4" class="touch" />
          <rect
            :x="each.x"
            :y="each.y"
            :width="BAND"
            :height="Math.max(1, each.height)"
            :fill="colour(dye(each.topic.whole))"
            :class="{ pale: !each.topic.shown }" />
          <rect
            v-if="selected && selected.period === each.topic.period && selected.own === each.topic.own"
            :x="each.x - 3"
            :y="each.y - 2"
            :width="BAND + 6"
            :height="each.height + 4"
            class="chosen" />
          <circle
            v-if="of(each.topic, 'born')"
            :cx="each.x + BAND / 2"
            :cy="each.y + each.height / 2"
            r="4.5"
            class="born" />
          <g v-if="of(each.topic, 'ended')" :stroke="colour(dye(each.topic.whole))" class="fray">
            <line
              v-for="to in [-7, 0, 7]"
              :key="to"
              :x1="each.x + BAND"
              :x2="each.x + BAND + 14"
              :y1="each.y + each.height / 2"
              :y2="each.y + each.height / 2 + to" />
          </g>
          <text v-if="each.topic.period === 0 && each.height > 8" x="-8" :y="each.y + each.height / 2 + 4" class="name">
            {{ each.topic.title.length > 22 ? `${each.topic.title.slice(0, 21)}…` : each.topic.title }}
          </text>
        </g>
      </g>
    </svg>
  </div>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
  max-width: 100%;
}
svg {
  display: block;
}
.period {
  font-size: 12px;
  fill: var(--soft);
}
.name {
  text-anchor: end;
  font-size: 12px;
  fill: var(--ink);
}
path {
  fill-opacity: 0.42;
}
path.doubtful {
  fill-opacity: 0.12;
}
path.grew {
  fill-opacity: 0.75;
}
.pale {
  fill-opacity: 0.35;
}
.touch {
  fill: transparent;
}
.chosen {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2;
}
.born {
  fill: var(--paper);
  stroke: var(--ink);
  stroke-width: 1.5;
}
.fray {
  stroke-width: 2;
}
[data-mark] {
  cursor: pointer;
  outline-offset: 2px;
}
</style>
