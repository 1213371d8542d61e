<script setup lang="ts">
import { computed, ref, watch } from 'vue'

import type { Schemas, Topic } from '@/api/client'
import { useTopics } from '@/api/topics'
import { useEvidence } from '@/frame/evidence'
import { useLeaveOut } from '@/frame/leaving'
import ChartFrame from '@/marks/ChartFrame.vue'
import ThreadRows, { type ThreadRow } from '@/marks/ThreadRows.vue'
import { colour, patternId } from '@/marks/dyes'
import { count, decimal, percent } from '@/marks/format'

import WordCloud from './WordCloud.vue'
import { useContexts, useTopicWords, type Ranking } from './label'

/** The words of a topic on threads, by any of the ways to rank them; one opens to its places within the topic. */
const props = defineProps<{ topic: Topic }>()
const { leaveTermOut } = useLeaveOut()
const { read } = useEvidence()
const { label } = useTopics()
const by = ref<Ranking>('probability')
const fold = ref(false)
const cloud = ref(false)
const picked = ref('')
watch(
  () => props.topic.topic,
  () => (picked.value = ''),
)
const query = useTopicWords(
  () => props.topic.topic,
  by,
  fold,
  () => (cloud.value ? 30 : 14),
)
const found = computed(() => query.data.value)
const words = computed(() => found.value?.words ?? [])
const chosen = computed(() => words.value.find((each) => each.term === picked.value))
const contexts = useContexts(() => props.topic.topic, picked)
const KINDS = computed(() => found.value?.rankings ?? [])
function figure(word: Schemas['RankedWord']) {
  const told = { probability: percent(word.share), lift: `${decimal(word.lift, 1)}×`, frex: decimal(word.frex) }
  return by.value === 'log odds' ? decimal(word.log_odds, 1) : told[by.value]
}
const threads = computed<ThreadRow[]>(() =>
  words.value.map((word) => ({
    key: word.term,
    label: word.display,
    value: word.share,
    figure: figure(word),
    said:
      `${word.display}: ${percent(word.share)} of the topic; ${percent(word.own, 0)} of the word’s weight is here` +
      (word.shared.length ? `; also strong in ${word.shared.map(label).join(', ')}` : '') +
      (word.folded.length ? `; with ${word.folded.join(', ')}` : ''),
    knot: 2.5 + 5 * word.own,
    evidence: { topic: props.topic.topic, holding: word.term },
  })),
)
const rows = computed(() =>
  words.value.map((word) => [
    word.display,
    word.share,
    word.own,
    word.lift,
    word.frex,
    word.log_odds,
    word.shared.map(label).join('; '),
    word.folded.join('; '),
  ]),
)
const HEADER = ['word', 'share within the topic', 'own', 'lift', 'FREX', 'log-odds', 'shared with', 'used alike']
</script>

<template>
  <div class="words" :class="{ waiting: query.isPlaceholderData.value }">
    <div class="row wrap small">
      <span role="group" aria-label="Words by">
        <button
          v-for="kind in KINDS"
          :key="kind.by"
          class="plain mode"
          :aria-pressed="by === kind.by"
          :title="`First ${kind.puts_first}`"
          @click="by = kind.by">
          {{ kind.title }}
        </button>
      </span>
      <label title="Larger where more probable, hung on threads"><input v-model="cloud" type="checkbox" /> cloud</label>
      <label title="Words that stand among the same neighbours as another are folded behind it"
        ><input v-model="fold" type="checkbox" /> alike as one</label
      >
    </div>
    <ChartFrame
      title="Words"
      note="length: share · knot: own"
      :name="`topic-${topic.topic + 1}-words`"
      :header="HEADER"
      :rows="rows">
      <WordCloud v-if="cloud" :words="words" :dye="topic.dye" :topic="topic.topic" @pick="picked = $event" />
      <ThreadRows
        v-else
        :rows="threads"
        title="Words of the topic"
        :colour="colour(topic.dye)"
        :fill="`url(#${patternId(topic.dye)})`"
        :high="25"
        @pick="picked = $event.key"
        @leave="leaveTermOut($event.key)" />
    </ChartFrame>
    <p v-if="found && (by !== 'probability' || fold)" class="soft small">{{ found.says }}</p>
    <section v-if="chosen" class="places" :aria-label="`Places of ${chosen.display}`">
      <p class="small">
        <b class="book">{{ chosen.display }}</b> {{ count(Math.round(chosen.tokens)) }}× in the topic,
        {{ percent(chosen.own, 0) }} its own<template v-if="chosen.shared.length"
          >; also strong in {{ chosen.shared.map(label).join(', ') }}</template
        ><template v-if="chosen.folded.length">; used like it: {{ chosen.folded.join(', ') }}</template> ·
        <button class="plain link" @click="leaveTermOut(chosen.term)">leave it out</button> <kbd>x</kbd>, then apply
      </p>
      <ol v-if="contexts.data.value" class="lines">
        <li v-for="(line, at) in contexts.data.value.contexts.slice(0, 8)" :key="at">
          <button
            class="plain"
            :title="`${line.name}, ${percent(line.probability, 0)} the topic’s`"
            @click="read(line.document)">
            <span class="left">{{ line.left }}</span> <b>{{ line.hit }}</b> <span>{{ line.right }}</span>
          </button>
        </li>
      </ol>
      <p v-if="contexts.data.value" class="soft small">{{ contexts.data.value.says }}</p>
    </section>
  </div>
</template>

<style scoped>
.words {
  min-width: 0;
  display: grid;
  gap: 0.3rem;
  align-content: start;
}
.waiting {
  opacity: 0.7;
}
.places p {
  margin: 0.2rem 0;
}
.lines {
  list-style: none;
  margin: 0;
  padding: 0;
  font-family: var(--book);
  font-size: 0.92rem;
}
.lines button {
  display: grid;
  grid-template-columns: minmax(0, 1fr) max-content minmax(0, 1fr);
  gap: 0.4rem;
  width: 100%;
  min-height: 24px;
}
.lines span {
  overflow: hidden;
  white-space: nowrap;
  text-overflow: ellipsis;
}
.lines .left {
  direction: rtl;
  text-align: right;
  unicode-bidi: plaintext;
}
.lines button:hover {
  background: var(--woad-wash);
}
</style>
