<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'

import { useTopics } from '@/api/topics'
import { useEvidence } from '@/frame/evidence'
import { useKey } from '@/frame/keys'
import { say } from '@/frame/notices'

import CandidateRow from './CandidateRow.vue'
import StrongPassages from './StrongPassages.vue'
import TopicFigures from './TopicFigures.vue'
import TopicList from './TopicList.vue'
import TopicTitle from './TopicTitle.vue'
import TopicWords from './TopicWords.vue'
import { useCandidates } from './label'
import { nextToRead } from './progress'
import { useReading } from './reading'

/** All topics in one sitting, by keyboard: words, passages, candidates, a name, a note, the next one. */
const { topics } = useTopics()
const { select, topic: selected } = useEvidence()
const edit = useReading()
const candidates = useCandidates()
const current = computed(() => Math.min(selected.value ?? 0, Math.max(0, topics.value.length - 1)))
const topic = computed(() => topics.value[current.value])
const title = ref<InstanceType<typeof TopicTitle>>()
const noteBox = ref<HTMLTextAreaElement>()
const note = ref('')
watch(
  () => [topic.value?.topic, topic.value?.note],
  () => (note.value = topic.value?.note ?? ''),
  { immediate: true },
)
function go(by: number) {
  if (topics.value.length) select({ topic: (current.value + by + topics.value.length) % topics.value.length })
}
function goOn() {
  const next = nextToRead(topics.value, current.value)
  if (next !== undefined) select({ topic: next })
  else {
    title.value?.leave()
    noteBox.value?.blur()
    say('Every topic has a name. What is still to be told apart: Sort and merge, Check by people.')
  }
}
function keep(label: string) {
  edit.save(topic.value, { label, note: note.value, confirmed: true, later: false })
  goOn()
}
function keepNote() {
  edit.save(topic.value, { note: note.value })
}
function putOff() {
  edit.save(topic.value, { later: !topic.value.later })
  goOn()
}
function undo() {
  const taken = edit.undo()
  if (taken === undefined) say('There is nothing to undo in the topics of this fit.')
  else select({ topic: taken })
}
async function startNote() {
  await nextTick()
  noteBox.value?.focus()
}
useKey('j', 'next topic', () => go(1))
useKey('k', 'previous topic', () => go(-1))
useKey('l', 'label the topic', () => title.value?.start())
useKey('n', 'note on the topic', startNote)
useKey('s', 'skip to the next topic without a name', goOn)
useKey('t', 'put the topic off till later, go on', putOff)
useKey('u', 'undo the last change of a topic', undo)
</script>

<template>
  <div v-if="topic" class="reading">
    <TopicList :topics="topics" :current="current" @pick="(at) => select({ topic: at })" />
    <section>
      <TopicTitle
        ref="title"
        :topic="topic"
        :candidates="candidates.of(topic.topic)"
        @keep="keep"
        @save="(label) => edit.save(topic, { label, confirmed: true })" />
      <CandidateRow
        :topic="topic"
        :candidates="candidates.of(topic.topic)"
        :waiting="candidates.waiting.value"
        :failed="candidates.failed.value"
        :says="candidates.says.value"
        @again="candidates.again()"
        @take="(label) => edit.save(topic, { label, confirmed: true })" />
      <div class="two">
        <TopicWords :topic="topic" />
        <aside>
          <TopicFigures :topic="topic" />
          <label class="row small"
            ><input
              type="checkbox"
              :checked="topic.set_aside"
              @change="edit.save(topic, { set_aside: !topic.set_aside })" />
            set aside: keep out of Track unless asked</label
          >
          <h2>
            Note <small class="soft"><kbd>n</kbd></small>
          </h2>
          <textarea
            ref="noteBox"
            v-model="note"
            class="note book"
            rows="4"
            aria-label="Note"
            placeholder="What did you see in the documents?"
            @change="keepNote"
            @keydown.esc="noteBox?.blur()"
            @keydown.ctrl.enter.prevent="(keepNote(), goOn())" />
        </aside>
      </div>
      <StrongPassages :topic="topic" />
    </section>
  </div>
</template>

<style scoped>
.reading {
  display: grid;
  grid-template-columns: 16.5rem minmax(0, 1fr);
  gap: 2rem;
  align-items: start;
}
section {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 0.9rem;
  align-content: start;
  min-width: 0;
}
.two {
  grid-template-columns: minmax(0, 1fr) 15rem;
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
  .reading {
    grid-template-columns: 14rem minmax(0, 1fr);
    gap: 1.2rem;
  }
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
@media (max-width: 900px) {
  .reading {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
