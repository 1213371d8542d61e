<script setup lang="ts">
import { computed, ref, watch } from 'vue'

import { ask, client } from '@/api/client'
import { strandPath, useStrandQuery } from '@/api/strand'
import { counted, percent } from '@/marks/format'
import { isUnsure, tagStyle, tagTitle } from '@/marks/tags'

import { usePasses } from './passes'

/** The tags of one sentence under two readings, side by side. */
const props = defineProps<{ sentence: string }>()
const passes = usePasses()
const typed = ref('')
const text = computed(() => typed.value.trim() || props.sentence)
const READINGS = [
  { title: 'in the sentence', context: true, capitals: true },
  { title: 'word by word', context: false, capitals: true },
  { title: 'in the sentence, whatever the capitals', context: true, capitals: false },
  { title: 'word by word, whatever the capitals', context: false, capitals: false },
]
const chosen = ref([0, 1])
const asked = ref('')
let timer: ReturnType<typeof setTimeout> | undefined
watch(
  text,
  (now) => {
    clearTimeout(timer)
    timer = setTimeout(() => (asked.value = now.slice(0, 2000)), 80)
  },
  { immediate: true },
)
const side = (at: number) =>
  useStrandQuery(
    `tags ${at}`,
    () => [asked.value, chosen.value[at]],
    (id) => {
      const { context, capitals } = READINGS[chosen.value[at]]
      const query = { text: asked.value, context, capitals }
      return ask(client.GET('/api/strands/{strand_id}/tags', { params: { ...strandPath(id), query } }))
    },
    () => !!asked.value,
  )
const sides = [side(0), side(1)]
const rows = computed(() => {
  const [left, right] = sides.map((each) => each.data.value?.segments.filter((piece) => piece.kind === 'tag') ?? [])
  return left.length === right.length
    ? left.map((piece, at) => ({ pair: [piece, right[at]], unlike: piece.form !== right[at].form }))
    : []
})
const names = computed(
  () => new Map(sides.flatMap((each) => each.data.value?.tags.map((tag) => [tag.tag, tag.name] as const) ?? [])),
)
const unlike = computed(() => rows.value.filter((row) => row.unlike).length)
const tagging = computed(() => passes.list.value.some((each) => each.kind === 'parts-of-speech' && each.on))
function tagAll() {
  const { context, capitals } = READINGS[chosen.value[0]]
  passes.addFirst('parts-of-speech', { context: context ? 'sentence' : 'word', capitals })
}
</script>

<template>
  <section class="speech">
    <div class="row wrap head">
      <h2>Parts of speech</h2>
      <span class="soft small grow">{{
        rows.length ? `${counted(rows.length, 'word')}, ${unlike} tagged otherwise` : ''
      }}</span>
      <button v-if="!tagging" class="plain link small" @click="tagAll">tag the corpus as in the first row</button>
    </div>
    <input v-model="typed" class="book sentence" :placeholder="sentence" aria-label="A sentence to tag" />
    <div class="row wrap small">
      <label v-for="at in [0, 1]" :key="at"
        >{{ ['first', 'second'][at] }} row
        <select v-model.number="chosen[at]" :aria-label="`Reading of the ${['first', 'second'][at]} row`">
          <option v-for="(reading, number) in READINGS" :key="number" :value="number">{{ reading.title }}</option>
        </select></label
      >
    </div>
    <ol class="plain-list words" aria-label="Tagged words">
      <li v-for="(row, number) in rows" :key="number" :class="{ unlike: row.unlike }">
        <span class="book" :style="tagStyle(row.pair[0].form ?? '')">{{ row.pair[0].text }}</span>
        <span
          v-for="(piece, at) in row.pair"
          :key="at"
          class="small tag"
          :class="{ soft: !row.unlike, unsure: isUnsure(piece) }"
          :title="tagTitle(piece, names)"
          >{{ piece.form }} <span class="numbers">{{ percent(piece.weight ?? 0, 0) }}</span></span
        >
      </li>
    </ol>
  </section>
</template>

<style scoped>
.head {
  align-items: baseline;
}
.head button {
  min-height: 24px;
}
.sentence {
  background: var(--raised);
  color: var(--ink);
  border: 1px solid var(--hairline);
  padding: 0.2rem 0.4rem;
  width: 100%;
  font-size: 1.05rem;
  margin-bottom: 0.3rem;
}
.words {
  display: flex;
  flex-wrap: wrap;
  gap: 0.5rem 0.9rem;
  margin: 0.6rem 0;
  padding: 0;
  list-style: none;
}
li {
  display: grid;
  align-content: start;
  border-bottom: 2px solid transparent;
  padding: 0.1rem 0.2rem;
}
li > .book {
  margin-bottom: 0.35rem;
}
.unlike {
  background: var(--weld-wash);
  border-color: var(--weld);
}
.unsure {
  font-style: italic;
}
</style>
