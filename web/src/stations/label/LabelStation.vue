<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'

import { useStrand } from '@/api/strand'
import { useTopics } from '@/api/topics'
import StaleNotice from '@/frame/StaleNotice.vue'
import Waiting from '@/frame/Waiting.vue'
import { useKey } from '@/frame/keys'
import { useAddress } from '@/frame/address'
import { useEvidence } from '@/frame/evidence'
import Swatch from '@/marks/Swatch.vue'
import { counted, decimal, percent } from '@/marks/format'
import Button from 'primevue/button'

import { useReading } from './reading'
import StrongPassages from './StrongPassages.vue'
import TopicList from './TopicList.vue'
import WordThreads from '@/frame/WordThreads.vue'

const { ply } = useStrand()
const { topics, measures, query, fit } = useTopics()
const doubt = computed(() => ply('fit')?.doubt)
const { select, topic: selected } = useEvidence()
const { get } = useAddress()
const edit = useReading()
const labelBox = ref<HTMLInputElement>()
const current = computed(() => Math.min(selected.value ?? 0, Math.max(0, topics.value.length - 1)))
const topic = computed(() => topics.value[current.value])
const label = ref('')
const note = ref('')
watch(
  () => [topic.value?.topic, topic.value?.label, topic.value?.note, fit.value],
  () => {
    label.value = topic.value?.label ?? ''
    note.value = topic.value?.note ?? ''
  },
  { immediate: true },
)
watch(
  () => topics.value.length,
  (count) => count && get('ev') === '' && select({ topic: 0 }),
  { immediate: true },
)
function go(by: number) {
  if (topics.value.length) select({ topic: (current.value + by + topics.value.length) % topics.value.length })
}
function save(confirmed = true) {
  if (topic.value) edit.save(topic.value, { label: label.value, note: note.value, confirmed })
}
/** Enter keeps the label and goes on to the next topic that has none. */
function keep() {
  save()
  const order = topics.value.map((each) => each.topic)
  const next = [...order.slice(current.value + 1), ...order.slice(0, current.value)].find(
    (at) => !topics.value[at].confirmed,
  )
  if (next !== undefined) select({ topic: next })
  else labelBox.value?.blur()
}
async function startLabel() {
  await nextTick()
  labelBox.value?.focus()
  labelBox.value?.select()
}
useKey('j', 'next topic', () => go(1))
useKey('k', 'previous topic', () => go(-1))
useKey('l', 'label the topic', startLabel)
</script>

<template>
  <div class="station label">
    <p v-if="query.error.value" class="notice bad wide">{{ query.error.value.message }}</p>
    <p v-else-if="!fit" class="wide">
      There are no topics yet. <RouterLink to="choose">Choose a count</RouterLink> or
      <RouterLink to="fit">fit one model</RouterLink> first.
    </p>
    <StaleNotice :steps="['fit']" class="wide" />
    <p v-if="doubt" class="notice wide">
      The trace of this fit: {{ doubt }}. Its topics may still change; ask for more iterations at
      <RouterLink to="fit">Fit</RouterLink> before you label them.
    </p>
    <p v-for="said in query.data.value?.notes" :key="said" class="notice wide">{{ said }}</p>
    <Waiting v-if="fit && query.isPending.value" class="wide" what="Reading the topics" />
    <TopicList v-if="topics.length" :topics="topics" :current="current" @pick="(at) => select({ topic: at })" />
    <section v-if="topic">
      <div class="row wrap name">
        <Swatch :dye="topic.dye" :size="30" />
        <input
          ref="labelBox"
          v-model="label"
          class="title"
          :class="{ suggested: !topic.confirmed }"
          maxlength="200"
          :placeholder="topic.candidates[0]"
          aria-label="Label of the topic"
          @keydown.enter.prevent="keep"
          @keydown.esc="labelBox?.blur()"
          @change="save()" />
        <span class="soft small"
          >topic {{ topic.topic + 1 }}{{ topic.marked_by ? ` · marked by ${topic.marked_by}` : '' }} ·
          <kbd>l</kbd> label · <kbd>enter</kbd> keep, next</span
        >
      </div>
      <div class="row wrap">
        <span class="soft small">{{
          topic.label && !topic.confirmed ? 'Suggested from an earlier fit' : 'Candidates'
        }}</span>
        <Button
          v-if="topic.label && !topic.confirmed"
          size="small"
          :label="`Confirm “${topic.label}”`"
          @click="save()" />
        <Button
          v-for="candidate in topic.candidates"
          :key="candidate"
          size="small"
          severity="secondary"
          :label="candidate"
          @click="((label = candidate), save())" />
      </div>
      <div class="two">
        <WordThreads :topic="topic" />
        <aside>
          <h2>Measures</h2>
          <dl>
            <dt>share of tokens</dt>
            <dd>
              {{ percent(topic.share.mean) }}
              <span v-if="topic.share.low !== null && topic.share.high !== null" class="soft small"
                >{{ percent(topic.share.low) }} to {{ percent(topic.share.high) }}</span
              >
            </dd>
            <template v-for="measure in measures" :key="measure.key">
              <dt :title="measure.about">{{ measure.title.toLowerCase() }}</dt>
              <dd>{{ decimal(topic.measures[measure.key], 2, topic.empty ? 'none: empty' : 'none') }}</dd>
            </template>
            <dt>documents with 10 % or more</dt>
            <dd>{{ counted(topic.documents, 'document') }}</dd>
            <template v-if="topic.seeds">
              <dt>found again</dt>
              <dd>
                in {{ topic.found_again }} of {{ counted(topic.seeds, 'other seed') }}
                <span class="seeds" aria-hidden="true"
                  ><i v-for="n in topic.seeds" :key="n" :class="{ hit: n <= topic.found_again }"
                /></span>
              </dd>
            </template>
          </dl>
          <label class="row small"
            ><input
              type="checkbox"
              :checked="topic.set_aside"
              @change="edit.save(topic, { set_aside: !topic.set_aside })" />
            set aside: keep out of Track unless asked</label
          >
          <h2>Note</h2>
          <textarea
            v-model="note"
            class="note book"
            rows="5"
            aria-label="Note"
            placeholder="What did you see in the documents?"
            @change="save(topic.confirmed)" />
        </aside>
      </div>
      <StrongPassages :topic="topic" />
    </section>
  </div>
</template>

<style scoped>
.label {
  display: grid;
  grid-template-columns: 16.5rem minmax(0, 1fr);
  gap: 2rem;
  align-content: start;
}
.wide {
  grid-column: 1 / -1;
}
section {
  display: grid;
  gap: 0.9rem;
  align-content: start;
  min-width: 0;
}
.title {
  font-family: var(--heading);
  font-size: 1.7rem;
  font-weight: 650;
  border: 0;
  border-bottom: 2px solid var(--woad);
  background: none;
  color: var(--ink);
  flex: 1;
  min-width: 8rem;
  padding: 0;
}
.title.suggested {
  font-style: italic;
}
.title::placeholder {
  color: var(--soft);
  font-style: italic;
  opacity: 0.8;
}
.two {
  grid-template-columns: minmax(0, 1fr) 15rem;
}
dl {
  margin: 0.3rem 0 1rem;
}
dt {
  color: var(--soft);
  font-size: 0.86rem;
}
dd {
  margin: 0 0 0.5rem;
  font-size: 1.05rem;
}
.seeds {
  display: flex;
  gap: 4px;
  margin-top: 3px;
}
.seeds i {
  width: 11px;
  height: 11px;
  border-radius: 50%;
  border: 1.5px solid var(--woad);
}
.seeds .hit {
  background: var(--woad);
}
.note {
  width: 100%;
  border: 0;
  border-left: 2px solid var(--hairline);
  background: none;
  color: var(--ink);
  padding: 0.2rem 0.8rem;
  resize: vertical;
  font-size: 1rem;
}
.note::placeholder {
  color: var(--soft);
}
aside h2 {
  margin-top: 0.6rem;
}
@media (max-width: 1180px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
