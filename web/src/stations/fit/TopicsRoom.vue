<script setup lang="ts">
import { computed, ref, watch } from 'vue'

import { ask, client } from '@/api/client'
import { useStrandQuery } from '@/api/strand'
import { useTopics } from '@/api/topics'
import SinceBefore from '@/frame/SinceBefore.vue'
import Waiting from '@/frame/Waiting.vue'
import WordThreads from './WordThreads.vue'
import { useEvidence } from '@/frame/evidence'
import { useKey } from '@/frame/keys'
import { useRooms } from '@/frame/rooms'
import ChartFrame from '@/marks/ChartFrame.vue'
import Swatch from '@/marks/Swatch.vue'
import { count, counted, percent } from '@/marks/format'

import FitWorking from './FitWorking.vue'
import SharesChart from './SharesChart.vue'
import SharesLine from './SharesLine.vue'
import TopicDocuments from './TopicDocuments.vue'

/** The topics of the fit beside their words, how their shares are spread, and the documents that have them. */
const { fit, topics, measures, query, label, sharesOf } = useTopics()
const { select, topic: selected } = useEvidence()
const { go } = useRooms()
const current = computed(() => Math.min(selected.value ?? at.value, Math.max(0, topics.value.length - 1)))
/** The topic that stays open while other evidence is looked at. */
const at = ref(0)
watch(selected, (topic) => topic !== undefined && (at.value = topic), { immediate: true })
const topic = computed(() => topics.value[current.value])
const by = ref('')
const word = ref('')
watch(current, () => (word.value = ''))
const spread = useStrandQuery(
  'spread',
  () => [fit.value, current.value, by.value],
  (id) =>
    ask(
      client.GET('/api/strands/{strand_id}/topics/{topic}/spread', {
        params: { path: { strand_id: id, topic: current.value }, query: { by: by.value || undefined } },
      }),
    ),
  () => !!topic.value,
)
const step = (by: number) =>
  topics.value.length && select({ topic: (current.value + by + topics.value.length) % topics.value.length })
useKey('j', 'next topic', () => step(1))
useKey('k', 'previous topic', () => step(-1))
const rows = computed(() =>
  topics.value.map((each) => [
    each.topic + 1,
    label(each.topic),
    each.share.mean,
    each.share.low,
    each.share.high,
    each.by_documents,
    each.documents,
    each.leads,
    ...measures.value.map((measure) => each.measures[measure.key] ?? null),
    each.words
      .slice(0, 8)
      .map((one) => one.display)
      .join(' '),
  ]),
)
const header = computed(() => [
  'topic',
  'called',
  `share of ${sharesOf.value}`,
  'low 95 %',
  'high 95 %',
  'mean share of documents',
  'documents with 10 % or more',
  'documents it leads',
  ...measures.value.map((measure) => measure.title.toLowerCase()),
  'words',
])
</script>

<template>
  <p v-if="query.error.value" class="notice bad">{{ query.error.value.message }}</p>
  <p v-else-if="!fit" class="soft">
    There are no topics yet. <button class="plain link" @click="go('make')">Make a fit</button>, or compare counts at
    Choose first.
  </p>
  <Waiting v-else-if="query.isPending.value" what="Reading the topics" />
  <div v-else-if="topic" class="topics">
    <ChartFrame
      class="list"
      :title="counted(topics.length, 'topic')"
      note="by share"
      name="topics"
      plain
      :header="header"
      :rows="rows">
      <button
        v-for="each in topics"
        :key="each.topic"
        class="plain topic"
        :class="{ selected: each.topic === current }"
        :aria-current="each.topic === current"
        @click="select({ topic: each.topic })">
        <Swatch :dye="each.dye" />
        <span class="grow name">
          <b v-if="each.label" class="cut">{{ each.label }}</b>
          <span v-if="each.empty" class="soft">stayed empty</span>
          <span v-else class="book cut" :class="{ soft: each.label }">{{
            each.words
              .slice(0, 6)
              .map((one) => one.display)
              .join(' ')
          }}</span>
        </span>
        <SharesLine :counts="spread.data.value?.topics[each.topic]?.counts ?? []" :dye="each.dye" />
        <span class="numbers small">{{ percent(each.share.mean) }}</span>
      </button>
      <SinceBefore />
    </ChartFrame>
    <section class="reading">
      <header class="row">
        <Swatch :dye="topic.dye" :size="24" />
        <div class="grow">
          <h2>{{ label(topic.topic) }}</h2>
          <p class="soft small">
            topic {{ topic.topic + 1 }}{{ topic.marked_by ? ` · marked by ${topic.marked_by}` : '' }} ·
            {{ percent(topic.share.mean) }} of {{ sharesOf === 'tokens' ? 'the tokens' : sharesOf }} ·
            {{ percent(topic.by_documents) }} of a document on average · leads {{ counted(topic.leads, 'document') }} ·
            10 % or more of {{ count(topic.documents) }}
          </p>
        </div>
      </header>
      <div class="two">
        <WordThreads :topic="topic" :high="22" :figure="54" @pick="word = $event" />
        <SharesChart
          v-if="spread.data.value"
          v-model:by="by"
          :spread="spread.data.value"
          :topic="topic.topic"
          :dye="topic.dye" />
        <Waiting v-else what="Counting documents by share" />
      </div>
      <FitWorking v-if="word" :of="{ topic: topic.topic, term: word }" />
      <TopicDocuments :topic="topic.topic" :dye="topic.dye" />
    </section>
  </div>
</template>

<style scoped>
.topics {
  display: grid;
  grid-template-columns: minmax(11.5rem, 2fr) minmax(0, 5fr);
  gap: 1.4rem;
  align-items: start;
}
.list {
  container-type: inline-size;
}
@container (max-width: 13rem) {
  .topic > svg:not(.swatch) {
    display: none;
  }
}
.topic {
  display: flex;
  gap: 0.5rem;
  align-items: center;
  width: 100%;
  min-height: 34px;
  padding: 0.2rem;
  border-bottom: 1px solid var(--hairline);
}
.topic:hover,
.selected {
  background: var(--woad-wash);
}
.name {
  display: grid;
  min-width: 0;
  line-height: 1.25;
}
.name .book {
  font-size: 0.86rem;
}
.reading {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 0.8rem;
}
.reading header p {
  margin: 0;
}
.reading h2 {
  margin: 0;
}
.two {
  grid-template-columns: repeat(auto-fit, minmax(min(15.5rem, 100%), 1fr));
}
</style>
