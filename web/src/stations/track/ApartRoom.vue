<script setup lang="ts">
import { computed } from 'vue'

import { useApart, type Parting } from '@/api/apart'
import { useTopics } from '@/api/topics'
import JobNotice from '@/frame/JobNotice.vue'
import Waiting from '@/frame/Waiting.vue'
import { useEvidence } from '@/frame/evidence'
import { useJob } from '@/frame/jobs'
import ChartFrame from '@/marks/ChartFrame.vue'
import { count, counted, percent } from '@/marks/format'

import ApartOf from './ApartOf.vue'
import ApartWeave from './ApartWeave.vue'
import BreakdownBar from './BreakdownBar.vue'
import { useBreakdown } from './breakdown'

/** A model for each part of the documents, and what each topic of the fit became in it. */
const { by, choices, query: asked, group, timed, get, set } = useBreakdown()
const { label } = useTopics()
const { select, isSelected } = useEvidence()
const number = (name: string) => Number(get(name)) || undefined
const of = computed<Parting | undefined>(() =>
  choices.value && (group.value || timed.value)
    ? {
        ...(group.value ? { group: group.value } : { period: by.value.period, breaks: by.value.breaks }),
        unit: by.value.unit,
        topics: number('k'),
        seeds: number('seeds') ?? 3,
        smallest: number('least'),
      }
    : undefined,
)
const { query, make } = useApart(of)
const { told } = useJob('parting')
const found = computed(() => query.data.value)
const fits = computed(() => 2 * (found.value?.n_parts ?? 0) * (number('seeds') ?? 3))
const first = computed(() => found.value?.differing[0] ?? { topic: 0, part: 0 })
const topic = computed(() => number('t') ?? (get('t') === '0' ? 0 : first.value.topic))
const part = computed(() => number('in') ?? (get('in') === '0' ? 0 : get('t') ? 0 : first.value.part))
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
const value = (event: Event) => (event.target as HTMLInputElement).value
</script>

<template>
  <p v-if="asked.error.value" class="notice bad">{{ asked.error.value.message }}</p>
  <h1>A model for each {{ group ?? (by.period || 'stretch') }}</h1>
  <BreakdownBar bare :timeless="!!group">
    <label class="small"
      >topics
      <input
        type="number"
        min="2"
        max="500"
        :value="number('k') ?? found?.topics_each"
        aria-label="Topics of each model"
        @change="set({ k: value($event) })" /></label
    ><label class="small"
      >fits of each
      <input
        type="number"
        min="1"
        max="10"
        :value="number('seeds') ?? 3"
        aria-label="Fits of each part"
        @change="set({ seeds: value($event) })" /></label
    ><label class="small"
      >smallest part
      <input
        type="number"
        min="2"
        :value="number('least') ?? found?.smallest"
        aria-label="Documents of the smallest part"
        @change="set({ least: value($event) })"
    /></label>
  </BreakdownBar>
  <p v-if="query.error.value ?? make.error.value" class="notice bad">
    {{ (query.error.value ?? make.error.value)?.message }}
  </p>
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
  <JobNotice v-else-if="told" :job="told" />
  <Waiting v-else-if="!found || query.isPlaceholderData.value" what="Looking at the parts" />
  <template v-else>
    <p class="row">
      <button class="plain chip first" :disabled="make.isPending.value" @click="of && make.mutate(of)">
        Fit each of {{ counted(found.n_parts, 'part') }}
      </button>
      <span class="soft">{{ count(fits) }} fits, half of them of documents dealt out at random</span>
    </p>
    <p class="soft small">{{ found.rests }}</p>
  </template>
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
input {
  width: 4.2rem;
}
.selected {
  background: var(--weld-wash);
}
.waiting {
  opacity: 0.6;
}
.first {
  font-weight: 700;
}
@media (max-width: 60rem) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
