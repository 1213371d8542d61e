<script setup lang="ts">
import { computed, ref } from 'vue'

import type { Schemas } from '@/api/client'
import { useComparable, useCompared, useTopics } from '@/api/topics'
import Waiting from '@/frame/Waiting.vue'
import { useAddress } from '@/frame/address'
import { useEvidence } from '@/frame/evidence'
import ChartFrame from '@/marks/ChartFrame.vue'
import Mark from '@/marks/Mark.vue'
import Plot from '@/marks/Plot.vue'
import Swatch from '@/marks/Swatch.vue'
import { colour, dashOf } from '@/marks/dyes'
import { count, counted, decimal, percent } from '@/marks/format'

import ComparedColumn from './ComparedColumn.vue'
import { between, placed } from './compare'

/** The fit of the strand beside another of the same documents: what became of the topics, and why. */
const { fit } = useTopics()
const { get, set } = useAddress()
const { select, read } = useEvidence()
const there = useComparable()
const choices = computed(() => there.data.value ?? [])
const other = computed(
  () => choices.value.find((each) => each.identity === get('other'))?.identity ?? choices.value[0]?.identity,
)
const query = useCompared(other)
const found = computed(() => query.data.value)
const was = computed(() => found.value?.was ?? [])
const now = computed(() => {
  const topics = found.value?.now ?? []
  const order = placed(
    found.value?.threads ?? [],
    was.value.map((each) => each.topic),
    topics.map((each) => each.topic),
  )
  return order.map((topic) => topics[topic])
})
/** No row is lower than what can be hit. */
const row = computed(() => (Math.max(was.value.length, now.value.length) > 24 ? 24 : 28))
const width = ref(160)
const most = computed(() => Math.max(1, ...(found.value?.threads ?? []).map((each) => each.tokens)))
const middle = (at: number) => (at + 0.5) * row.value
const heightOf = (topics: Schemas['ComparedTopic'][], topic: number) =>
  middle(topics.findIndex((each) => each.topic === topic))
const threads = computed(() =>
  (found.value?.threads ?? []).map((each) => ({
    ...each,
    dye: found.value!.now[each.now].dye,
    path: between(width.value, heightOf(was.value, each.was), heightOf(now.value, each.now)),
    thick: 1.5 + 6 * Math.sqrt(each.tokens / most.value),
    said: `${found.value!.was[each.was].title} to ${found.value!.now[each.now].title}: ${percent(each.of_was, 0)} of the tokens there, ${percent(each.of_now, 0)} of those here`,
  })),
)
const rows = computed(() =>
  threads.value.map((each) => [
    found.value!.was[each.was].title,
    found.value!.now[each.now].title,
    each.became,
    Math.round(each.tokens),
    each.of_was,
    each.of_now,
  ]),
)
const called = (each: Schemas['OtherFit']) =>
  `${each.last ? 'the fit before: ' : ''}${each.said.name}, ${each.said.size}${each.differs.length ? ` (${each.differs.slice(0, 3).join(', ')}${each.differs.length > 3 ? ', …' : ''})` : ''}`
const said = (value: unknown) =>
  value === null || value === undefined
    ? 'left open'
    : Array.isArray(value)
      ? value.length
        ? value.join(', ')
        : 'none'
      : typeof value === 'object'
        ? JSON.stringify(value)
        : String(value)
</script>

<template>
  <p v-if="!fit" class="soft">There is no fit yet. Make one first.</p>
  <Waiting v-else-if="there.isPending.value" what="Looking for other fits" />
  <p v-else-if="!choices.length" class="soft">
    There is no other fit of these documents yet. Change a setting at Make and trace and fit again, leave words out with
    x, or compare counts at Choose: what became of the topics is shown here.
  </p>
  <div v-else class="compare">
    <label class="against"
      >held against
      <select
        :value="other"
        aria-label="Other fit"
        @change="set({ other: ($event.target as HTMLSelectElement).value })">
        <option v-for="each in choices" :key="each.identity" :value="each.identity">{{ called(each) }}</option>
      </select></label
    >
    <p v-if="query.error.value" class="notice bad">{{ query.error.value.message }}</p>
    <Waiting v-else-if="!found" what="Matching the topics" />
    <template v-else>
      <p class="sentence">{{ found.sentence }}</p>
      <ChartFrame
        title="What became of the topics"
        note="a thread carries most of the tokens of a topic; its width is how many"
        name="topics-compared"
        :header="['there', 'here', 'became', 'tokens', 'share of there', 'share of here']"
        :rows="rows">
        <div class="columns">
          <ComparedColumn
            :title="`${found.said_was.name}, ${found.said_was.size}`"
            :topics="was"
            :row="row"
            @pick="select({ other_fit: found.other, was: $event })" />
          <div class="threads">
            <Plot
              v-model:width="width"
              :height="Math.max(was.length, now.length) * row"
              label="Threads from the topics of the other fit to those of this one">
              <Mark
                v-for="each in threads"
                :key="`${each.was} ${each.now}`"
                :said="each.said"
                :evidence="{ other_fit: found.other, was: each.was, now: each.now }">
                <path
                  :d="each.path"
                  class="thread"
                  :style="{ stroke: colour(each.dye), strokeWidth: each.thick }"
                  :stroke-dasharray="each.became === 'same' ? '' : dashOf(each.dye) || '7 3'" />
                <path :d="each.path" class="target" :style="{ strokeWidth: Math.max(8, each.thick) }" />
              </Mark>
            </Plot>
          </div>
          <ComparedColumn
            :title="`${found.said_now.name}, ${found.said_now.size}`"
            :topics="now"
            :row="row"
            @pick="select({ topic: $event })" />
        </div>
      </ChartFrame>
      <div class="two">
        <section aria-label="Settings that differ">
          <h2>Settings that differ</h2>
          <p v-if="!found.settings.length" class="soft">None: the program has another version since.</p>
          <table v-else>
            <thead>
              <tr>
                <th>setting</th>
                <th>there</th>
                <th>here</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="each in found.settings" :key="each.step + each.setting">
                <td>
                  {{ each.setting.replaceAll('_', ' ') }} <small class="soft">{{ each.step }}</small>
                </td>
                <td class="value">{{ said(each.difference.there) }}</td>
                <td class="value">{{ said(each.difference.here) }}</td>
              </tr>
            </tbody>
          </table>
        </section>
        <section aria-label="Measures of both">
          <h2>Measures</h2>
          <table>
            <thead>
              <tr>
                <th></th>
                <th class="right">there</th>
                <th class="right">here</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="each in found.measures" :key="each.title">
                <td>{{ each.title }}</td>
                <td class="right numbers">{{ decimal(each.was, 3) }}</td>
                <td class="right numbers">{{ decimal(each.now, 3) }}</td>
              </tr>
            </tbody>
          </table>
        </section>
      </div>
      <section aria-label="Documents that moved">
        <h2>Documents that moved</h2>
        <p class="soft">
          <button v-if="found.moved" class="plain link" @click="select({ moved_from: found.other })">
            {{ counted(found.moved, 'document') }}
          </button>
          <template v-else>None</template>
          of {{ count(found.documents) }} with half or more in topics that no thread joins.
        </p>
        <div v-for="each in found.first" :key="each.document" class="document">
          <span class="numbers share">{{ percent(each.moved) }}</span>
          <button class="plain link" @click="read(each.document)">{{ each.name }}</button>
          <span class="row grow path">
            <Swatch :dye="found.was[each.was].dye" :size="12" />
            <span class="cut">{{ found.was[each.was].title }}</span> →
            <Swatch :dye="found.now[each.now].dye" :size="12" />
            <span class="cut">{{ found.now[each.now].title }}</span>
          </span>
          <span class="soft small numbers">{{ counted(each.words, 'word') }}</span>
        </div>
      </section>
    </template>
  </div>
</template>

<style scoped>
.compare {
  display: grid;
  gap: 0.8rem;
  grid-template-columns: minmax(0, 1fr);
}
.against select {
  max-width: 100%;
}
.sentence {
  font-family: var(--book);
  font-size: 1.15rem;
  margin: 0;
}
.columns {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(90px, 2fr) minmax(0, 3fr);
  gap: 0.5rem;
}
.threads {
  padding-top: 26px;
}
.thread {
  fill: none;
  stroke-linecap: round;
  opacity: 0.85;
}
.threads path.target {
  fill: none;
  stroke: transparent;
}
.threads :deep(.mark:hover .thread),
.threads :deep(.selected .thread) {
  opacity: 1;
}
.threads :deep(.mark:hover .target),
.threads :deep(.selected .target) {
  fill: none;
  stroke: var(--woad-wash);
}
.threads :deep(.mark:focus-visible .target) {
  stroke: var(--woad);
  stroke-opacity: 0.45;
}
.two {
  grid-template-columns: minmax(0, 3fr) minmax(0, 2fr);
}
th,
td {
  text-align: left;
  padding: 0.15rem 1rem 0.15rem 0;
  vertical-align: baseline;
}
.value {
  max-width: 16rem;
  overflow-wrap: anywhere;
}
.document {
  display: flex;
  gap: 0.8rem;
  align-items: baseline;
  border-top: 1px solid var(--hairline);
  padding: 0.2rem 0;
}
.share {
  width: 4rem;
}
.path {
  min-width: 0;
  gap: 0.4rem;
  align-self: center;
}
</style>
