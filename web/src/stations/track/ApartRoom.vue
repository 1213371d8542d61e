<script setup lang="ts">
import { computed } from 'vue'

import { useApart } from '@/api/apart'
import { useTopics } from '@/api/topics'
import { useEvidence } from '@/frame/evidence'
import ChartFrame from '@/marks/ChartFrame.vue'
import { percent } from '@/marks/format'

import ApartOf from './ApartOf.vue'
import ApartWeave from './ApartWeave.vue'
import PartingBar from './PartingBar.vue'
import PartsToFit from './PartsToFit.vue'
import { useParting } from './parting'

/** A model for each part of the documents, and what each topic of the fit became in it. */
const { by, choices, query: asked, group, get, set, of } = useParting()
const { label } = useTopics()
const { select, isSelected } = useEvidence()
const query = useApart(of)
const found = computed(() => query.data.value)
const given = (name: string) => (get(name) ? Number(get(name)) : undefined)
const first = computed(() => found.value?.differing[0] ?? { topic: 0, part: 0 })
const topic = computed(() => given('t') ?? first.value.topic)
const part = computed(() => given('in') ?? (get('t') ? 0 : first.value.part))
const pick = (k: number, at: number) => set({ t: String(k), in: String(at) })
const alone = computed(() =>
  (found.value?.parts ?? []).flatMap((each) =>
    each.topics.filter((own) => own.came === 'new').map((own) => ({ part: each, own })),
  ),
)
const HEADER = ['part', 'its topic', 'words', 'share', 'came from', 'topics of the fit', 'held by seeds']
const rows = computed(() =>
  (found.value?.parts ?? []).flatMap((each) =>
    each.topics.map((own) => [
      ...[each.said, own.title, own.words.join(' '), own.share, own.came],
      ...[own.came_from.map(label).join('; '), own.held],
    ]),
  ),
)
</script>

<template>
  <p v-if="asked.error.value" class="notice bad">{{ asked.error.value.message }}</p>
  <h1>A model for each {{ group ?? (by.period || 'stretch') }}</h1>
  <PartingBar :topics="found?.topics_each" :smallest="found?.smallest" />
  <p v-if="query.error.value" class="notice bad">{{ query.error.value.message }}</p>
  <p v-else-if="choices && !of" class="notice">
    Choose a field to group by{{ choices.dated ? ', or a period' : '; no document has a date' }}.
  </p>
  <template v-else-if="found?.made">
    <p class="outcome">{{ found.says }}</p>
    <ChartFrame title="" name="models-apart" :header="HEADER" :rows="rows" plain>
      <div class="two" :class="{ waiting: query.isPlaceholderData.value }">
        <ApartWeave :found="found" :topic="topic" :part="part" @pick="pick" />
        <div class="beside">
          <ApartOf :found="found" :topic="topic" :part="part" />
          <section v-if="found.differing.length" class="small">
            <h2>Not the same</h2>
            <ul>
              <li v-for="each in found.differing" :key="`${each.topic} ${each.part}`">
                <button class="plain" @click="pick(each.topic, each.part)">{{ each.says }}</button>
              </li>
            </ul>
          </section>
          <section v-if="alone.length" class="small">
            <h2>Of one part alone</h2>
            <ul>
              <li v-for="each in alone" :key="`${each.part.name} ${each.own.own}`">
                <button
                  class="plain"
                  :class="{ selected: isSelected({ part_fit: each.part.identity, own: each.own.own }) }"
                  @click="select({ part_fit: each.part.identity, own: each.own.own })">
                  {{ each.part.said }}: {{ each.own.words.slice(0, 6).join(', ') }}
                  <span class="soft numbers"
                    >{{ percent(each.own.share) }}, by {{ Math.round(100 * each.own.held) }} % of the seeds</span
                  >
                </button>
              </li>
            </ul>
          </section>
        </div>
      </div>
    </ChartFrame>
    <p class="soft small">{{ found.rests }}</p>
  </template>
  <PartsToFit v-else :of="of" :parts="found?.n_parts" :rests="found?.rests" :waiting="query.isPlaceholderData.value" />
</template>

<style scoped>
.outcome {
  font-family: var(--heading);
  font-size: 1.1rem;
  margin: 0;
}
.two {
  display: grid;
  grid-template-columns: minmax(0, max-content) minmax(18rem, 1fr);
  gap: 1.4rem;
  align-items: start;
}
.beside {
  display: grid;
  gap: 0.8rem;
}
h2 {
  margin: 0;
}
ul {
  margin: 0;
  padding: 0;
  list-style: none;
  max-height: 14rem;
  overflow-y: auto;
}
li button {
  text-align: left;
  min-height: 24px;
}
.selected {
  background: var(--weld-wash);
}
.waiting {
  opacity: 0.6;
}
@media (max-width: 60rem) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
