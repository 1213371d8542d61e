<script setup lang="ts">
import { computed } from 'vue'

import Waiting from '@/frame/Waiting.vue'
import { useEvidence } from '@/frame/evidence'
import Swatch from '@/marks/Swatch.vue'
import { percent } from '@/marks/format'

import VoteRow from './VoteRow.vue'
import { isAccident, lasting, ordered } from './between'
import { useBetween, useFits, useHow } from './choose'
import { parseNumbers } from './sweep'

/** Two or three candidates read side by side: topics, strongest documents, what differs, a vote for each topic. */
const MOST = 3
const { get, set } = useHow()
const { found: fits, tried } = useFits()
const { select, isSelected, read } = useEvidence()
const counts = computed(() => {
  const asked = parseNumbers(get('counts'))
  if (asked.length) return asked.slice(0, MOST)
  const candidates = (fits.value?.candidates ?? []).map((each) => each.topics)
  return (candidates.length > 1 ? candidates : tried.value).slice(0, MOST)
})
const query = useBetween(counts)
const found = computed(() => query.data.value)
const columns = computed(() => found.value?.columns ?? [])
const order = computed(() => ordered(columns.value, found.value?.ribbons ?? []))
/** What a topic is against the column before it, or of the one after; nothing where it is the same there. */
function differs(column: number, topic: number): string {
  const ribbons = found.value?.ribbons ?? []
  const [from, other] = column ? [column - 1, columns.value[column - 1]] : [0, columns.value[1]]
  if (!other) return ''
  const mine = ribbons.filter((each) => each.column === from && (column ? each.now : each.was) === topic)
  if (!mine.length) return `not among the ${other.topics}`
  if (mine.some((each) => each.became === 'same') && mine.length === 1) return ''
  const names = mine.map((each) => other.of[column ? each.was : each.now].title)
  return `${column ? 'from' : 'to'} ${names.map((each) => `“${each}”`).join(' and ')} of ${other.topics}`
}
const ofTopic = (column: number, topic: number) => ({ topic, of_fit: columns.value[column].identity })
const change = (at: number, event: Event) => {
  const next = columns.value.map((each) => each.topics)
  next[at] = Number((event.target as HTMLSelectElement).value)
  set({ counts: [...new Set(next)].join(',') })
}
</script>

<template>
  <p v-if="query.error.value" class="notice bad">{{ query.error.value.message }}</p>
  <Waiting v-else-if="!found" what="Reading the candidates" />
  <p v-else-if="!columns.length" class="soft">No fit has been made of this matrix yet. Start a sweep at Counts.</p>
  <div v-else class="beside" :style="{ gridTemplateColumns: `repeat(${columns.length}, minmax(0, 1fr))` }">
    <section v-for="(column, at) in columns" :key="column.topics" :aria-label="`${column.topics} topics`">
      <h2 class="row">
        <select :value="column.topics" :aria-label="`Count ${at + 1}`" @change="change(at, $event)">
          <option v-for="each in tried" :key="each" :value="each">{{ each }}</option>
        </select>
        topics <small class="soft">seed {{ column.seed }}</small>
      </h2>
      <article v-for="topic in order[at]" :key="topic" :class="{ selected: isSelected(ofTopic(at, topic)) }">
        <button class="plain name" :title="column.of[topic].words.join(' ')" @click="select(ofTopic(at, topic))">
          <Swatch :dye="column.of[topic].dye" :size="16" />
          <span class="book grow words">{{ column.of[topic].words.join(' ') }}</span>
          <span class="numbers small soft">{{ percent(column.of[topic].share) }}</span>
        </button>
        <p class="small soft">
          <em v-if="differs(at, topic)" class="differs">{{ differs(at, topic) }}; </em>
          <span :class="{ accident: isAccident(column.of[topic]) }">{{ lasting(column.of[topic]) }}</span>
        </p>
        <p v-for="each in column.of[topic].strongest" :key="each.document" class="small strong">
          <button class="plain link cut" :title="each.name" @click="read(each.document)">{{ each.name }}</button>
          <span class="soft cut">{{ each.brief }}</span>
          <span class="numbers soft">{{ percent(each.share, 0) }}</span>
        </p>
        <VoteRow :fit="column.identity" :topic="column.of[topic]" />
      </article>
    </section>
  </div>
</template>

<style scoped>
.beside {
  display: grid;
  gap: 1.2rem;
  align-items: start;
}
h2 {
  margin: 0;
}
article {
  padding: 0.4rem 0;
  border-top: 1px solid var(--hairline);
}
article.selected {
  background: var(--woad-wash);
}
article p {
  margin: 0.1rem 0;
}
.name {
  display: flex;
  gap: 0.5rem;
  align-items: start;
  width: 100%;
  text-align: left;
}
.words {
  line-height: 1.3;
}
.strong {
  display: flex;
  gap: 0.5rem;
  align-items: center;
}
.strong > button {
  flex: none;
  min-height: 24px;
  max-width: 45%;
}
.differs {
  color: var(--woad);
}
.accident {
  color: var(--madder);
}
</style>
