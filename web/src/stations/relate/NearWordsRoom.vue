<script setup lang="ts">
import { computed, ref, watch } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { strandPath, useStrand, useStrandQuery } from '@/api/strand'
import { useAddress } from '@/frame/address'
import { useEvidence } from '@/frame/evidence'
import ThreadRows from '@/marks/ThreadRows.vue'
import { count, decimal } from '@/marks/format'

import AnalogyForm from './AnalogyForm.vue'
import MakeRow from './MakeRow.vue'
import RoomState from './RoomState.vue'
import SynonymList from './SynonymList.vue'
import VectorFile from './VectorFile.vue'
import WordPairSheet from './WordPairSheet.vue'
import { text, useBeside } from './beside'

/** Words that are used alike: the nearest to one, the contexts that make them near, analogies, words that may be one. */
type Settings = Schemas['WordVectorsSettings']
const { choices, tried, set, make, identity, row } = useBeside<Settings>('word_vectors')
const { id } = useStrand()
const { get, set: setAddress } = useAddress()
const { request, select } = useEvidence()
const screen = useStrandQuery(
  'near words',
  identity,
  (strand) => ask(client.GET('/api/strands/{strand_id}/relate/near-words', { params: strandPath(strand) })),
  () => !!identity.value,
)
const made = computed(() => (identity.value ? screen.data.value : undefined))
const word = computed(() => get('word') || made.value?.begin[0]?.term || '')
const typed = ref('')
watch(word, (given) => (typed.value = given), { immediate: true })
const near = useStrandQuery(
  'near a word',
  () => [identity.value, word.value],
  (strand) =>
    ask(
      client.GET('/api/strands/{strand_id}/relate/near-words/word', {
        params: { ...strandPath(strand), query: { term: word.value } },
      }),
    ),
  () => !!identity.value && !!word.value,
)
const found = computed(() => (made.value && !near.error.value ? near.data.value : undefined))
function ask_(term: string) {
  setAddress({ word: term, ev: '' })
}
const rows = computed(() =>
  (found.value?.nearest ?? []).map((each) => ({
    key: each.term,
    label: each.display,
    value: Math.max(0, each.cosine),
    figure: `${decimal(each.cosine)} · ${count(each.count)}`,
    said: `${each.display}: cosine ${decimal(each.cosine)} with ${found.value?.word.display}, ${count(each.count)} times`,
    knot: 3,
    evidence: { term: found.value?.word.term, with_term: each.term },
  })),
)
const other = computed(() =>
  request.value?.with_term && request.value.term === found.value?.word.term ? String(request.value.with_term) : '',
)
</script>

<template>
  <div class="room">
    <MakeRow v-if="choices && tried" what="the word vectors" v-bind="row" @make="make()">
      <template v-if="!tried.file">
        <label
          >near is within
          <input
            type="number"
            min="1"
            max="50"
            :value="tried.window"
            aria-label="Words to either side"
            @change="set({ window: Number(text($event)) })"
        /></label>
        <label
          >numbers of a vector
          <input
            type="number"
            min="2"
            max="500"
            :value="tried.dimensions"
            aria-label="Numbers of a vector"
            @change="set({ dimensions: Number(text($event)) })"
        /></label>
        <label title="How many times as often as by chance a word has to stand near, to count as a context"
          >times chance
          <input
            type="number"
            min="1"
            max="100"
            step="any"
            :value="tried.shift"
            aria-label="Times chance"
            @change="set({ shift: Number(text($event)) })"
        /></label>
        <label title="Power of how frequent a context is; below 1 rare contexts weigh less"
          >smoothing
          <input
            type="number"
            min="0.1"
            max="1"
            step="any"
            :value="tried.smoothing"
            aria-label="Smoothing"
            @change="set({ smoothing: Number(text($event)) })"
        /></label>
      </template>
      <VectorFile
        :file="tried.file"
        what="or from a file: a word and its numbers a line"
        accept=".txt,.vec,text/plain"
        @change="set({ file: $event })" />
      <template #hint>Suggested: {{ choices.why.word_vectors }}.</template>
    </MakeRow>
    <template v-if="made">
      <p class="small soft">
        {{ made.says }}.
        <a :href="`/api/strands/${id}/relate/near-words/vectors.txt`">Vectors as a file</a>
        <span v-if="made.bad_lines" class="loss">
          {{ count(made.bad_lines) }} lines of the file can’t be read; {{ made.bad[0] }}.</span
        >
      </p>
      <form class="row wrap" @submit.prevent="ask_(typed.trim())">
        <input v-model="typed" required aria-label="Word" size="18" />
        <button class="plain link">nearest words</button>
        <span class="small soft">for instance</span>
        <button
          v-for="each in made.begin"
          :key="each.term"
          type="button"
          class="plain link small"
          @click="ask_(each.term)">
          {{ each.display }}
        </button>
      </form>
      <p v-if="near.error.value" class="notice bad">{{ near.error.value.message }}</p>
      <div v-else-if="found" class="two">
        <section>
          <div class="row spread">
            <h2>Nearest to {{ found.word.display }}</h2>
            <button class="plain link small" @click="select({ term: found.word.term })">
              its {{ count(found.word.count) }} places
            </button>
          </div>
          <ThreadRows
            :rows="rows"
            :title="`Words nearest to ${found.word.display}`"
            colour="var(--woad)"
            fill="var(--woad)"
            :high="21"
            :figure="92" />
          <p class="small soft">cosine of the vectors · times in the corpus</p>
        </section>
        <section>
          <WordPairSheet v-if="other" :one="found.word.term" :other="other" @word="ask_" />
          <template v-else>
            <h2>What stands near it</h2>
            <p v-if="found.contexts.length" class="row wrap book contexts">
              <button
                v-for="each in found.contexts"
                :key="each.term"
                class="plain"
                :title="`${decimal(Math.exp(each.weight), 1)} times as often as by chance`"
                @click="select({ term: found.word.term, with_term: each.term })">
                {{ each.display }} <small class="soft numbers">×{{ decimal(Math.exp(each.weight), 0) }}</small>
              </button>
            </p>
            <p class="small soft">
              {{
                made.has_contexts
                  ? 'How many times as often as by chance. Select a near word: what makes it near stands here.'
                  : 'Vectors from a file say nothing of contexts.'
              }}
            </p>
          </template>
        </section>
      </div>
      <AnalogyForm :identity="identity ?? ''" :first="word" @word="ask_" />
      <SynonymList :identity="identity ?? ''" @word="ask_" />
    </template>
    <RoomState v-else :made="!!identity" :fault="screen.error.value?.message" what="Reading the vectors">
      Words that stand near the same words are used alike. Each becomes a vector, from this corpus alone or from a file;
      then the nearest of each word can be read, with the contexts that make them near.
    </RoomState>
  </div>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: minmax(0, 1.1fr) minmax(0, 1fr);
  gap: 1.6rem;
}
.contexts {
  gap: 0.1rem 0.9rem;
}
.contexts button {
  min-height: 24px;
}
.contexts button:hover {
  color: var(--woad);
  text-decoration: underline;
}
</style>
