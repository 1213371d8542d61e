<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref } from 'vue'

import { ask, client } from '@/api/client'
import { strandPath, useStrandQuery } from '@/api/strand'
import { useTopics } from '@/api/topics'
import Waiting from '@/frame/Waiting.vue'
import { useEvidence } from '@/frame/evidence'
import Swatch from '@/marks/Swatch.vue'
import { counted, decimal, percent, within } from '@/marks/format'

import FamilySwatch from './FamilySwatch.vue'
import WordCloud from './WordCloud.vue'
import { familiesOf } from './families'

/** All topics on one sheet: their words as clouds on threads, with share, coherence and family; for the wall or the printer. */
const { topics, fit, measures, sharesOf } = useTopics()
const { select } = useEvidence()
const words = ref(24)
const aside = ref(false)
const query = useStrandQuery(
  'topic sheet',
  () => [fit.value, words.value],
  (id) =>
    ask(
      client.GET('/api/strands/{strand_id}/topic-sheet', {
        params: { ...strandPath(id), query: { limit: words.value } },
      }),
    ),
  () => !!fit.value,
)
const shown = computed(() => topics.value.filter((topic) => !topic.empty && (aside.value || !topic.set_aside)))
const families = computed(() => familiesOf(shown.value))
const wordsOf = (topic: number) => query.data.value?.find((each) => each.topic === topic)?.words ?? []
const left = computed(() => topics.value.filter((topic) => topic.set_aside).length)
const print = () => window.print()
</script>

<template>
  <div class="whole">
    <div class="row wrap spread tools">
      <h1>All topics on one sheet</h1>
      <span class="row wrap small">
        <label>words <input v-model.lazy="words" type="number" min="8" max="60" class="number" /></label>
        <label v-if="left"><input v-model="aside" type="checkbox" /> with {{ counted(left, 'topic') }} set aside</label>
        <Button size="small" label="Print" @click="print" />
      </span>
    </div>
    <Waiting v-if="!query.data.value" what="Laying out the words" />
    <template v-else>
      <section v-for="family in families" :key="family.name" class="family">
        <h2 v-if="family.name" class="row">
          <FamilySwatch :dyes="family.topics.map((topic) => topic.dye)" />{{ family.name }}
          <small class="soft numbers">{{ percent(family.share) }} of {{ sharesOf }}</small>
        </h2>
        <div class="clouds">
          <article v-for="topic in family.topics" :key="topic.topic" class="cloud">
            <button class="plain row" @click="select({ topic: topic.topic })">
              <Swatch :dye="topic.dye" />
              <b class="grow cut">{{ topic.title }}</b>
              <span class="numbers small"
                >{{ percent(topic.share.mean) }}
                <span v-if="measures[0]" class="soft" :title="measures[0].title">{{
                  decimal(topic.measures[measures[0].key])
                }}</span></span
              >
            </button>
            <WordCloud :words="wordsOf(topic.topic)" :dye="topic.dye" :topic="topic.topic" />
            <p v-if="topic.note" class="soft small note book">{{ topic.note }}</p>
          </article>
        </div>
      </section>
      <p class="soft small">
        Size: probability within the topic, not comparable between topics; weight of the thread’s knot: how much a word
        is the topic’s own. Beside each name its share of {{ sharesOf
        }}<template v-if="measures[0]"> and its {{ within(measures[0].title) }}</template
        >.
      </p>
    </template>
  </div>
</template>

<style scoped>
.clouds {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(15.5rem, 1fr));
  gap: 0.9rem 1.6rem;
  margin-bottom: 0.8rem;
}
.cloud {
  min-width: 0;
  break-inside: avoid;
}
.cloud > button {
  width: 100%;
  min-height: 26px;
}
.family h2 {
  gap: 0.6rem;
  margin: 0.6rem 0 0.3rem;
}
.note {
  margin: 0.1rem 0 0;
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
  line-clamp: 2;
  overflow: hidden;
}
@media print {
  .tools :deep(button),
  .tools label {
    display: none;
  }
  .clouds {
    grid-template-columns: repeat(4, 1fr);
    gap: 0.5rem 0.9rem;
  }
}
</style>
