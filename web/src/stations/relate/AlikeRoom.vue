<script setup lang="ts">
import { computed, ref } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { strandPath, useStrandQuery } from '@/api/strand'
import { useAddress } from '@/frame/address'
import { useEvidence } from '@/frame/evidence'
import { count, counted } from '@/marks/format'

import AlikeList from './AlikeList.vue'
import DocumentPair from './DocumentPair.vue'
import MakeRow from './MakeRow.vue'
import MiddleForm from './MiddleForm.vue'
import RoomState from './RoomState.vue'
import TypedVector from './TypedVector.vue'
import VectorFile from './VectorFile.vue'
import WeightingChoice from './WeightingChoice.vue'
import { text, useBeside, type Weighting } from './beside'

/** Documents by their vectors: which are alike one and by which terms, near a middle, near a vector without a text. */
type Settings = Schemas['DocumentVectorsSettings']
const { choices, tried, set, make, identity, row } = useBeside<Settings>('document_vectors')

const { get, set: setAddress } = useAddress()
const { request, select, read } = useEvidence()
const screen = useStrandQuery(
  'alike documents',
  identity,
  (strand) => ask(client.GET('/api/strands/{strand_id}/relate/alike', { params: strandPath(strand) })),
  () => !!identity.value,
)
const made = computed(() => (identity.value ? screen.data.value : undefined))
const document_ = computed(() => Number(get('doc') || (made.value?.begin ?? -1)))
const near = useStrandQuery(
  'alike a document',
  () => [identity.value, document_.value],
  (strand) =>
    ask(
      client.GET('/api/strands/{strand_id}/relate/alike/documents/{document}', {
        params: { path: { ...strandPath(strand).path, document: document_.value } },
      }),
    ),
  () => !!made.value && document_.value >= 0,
)
const found = computed(() => (made.value && !near.error.value ? near.data.value : undefined))
const other = computed(() => Number(get('other') || -1))
function choose(document: number) {
  setAddress({ doc: String(document), other: '' })
  select({ alike: document })
}
const wanted = ref('')
const looked = useStrandQuery(
  'documents to choose',
  () => wanted.value.trim(),
  (strand) =>
    ask(
      client.GET('/api/strands/{strand_id}/documents', {
        params: { ...strandPath(strand), query: { find: wanted.value.trim(), limit: 6 } },
      }),
    ),
  () => wanted.value.trim().length > 1,
)
const offered = computed(() => (wanted.value.trim().length > 1 ? (looked.data.value?.rows ?? []) : []))
/** The document that is selected as evidence, which may be the one to ask about. */
const selected = computed(() => {
  const at = request.value?.document
  return at === undefined || Number(at) === document_.value ? undefined : Number(at)
})
const WAYS: Record<Settings['of'] & string, string> = {
  terms: 'weights of terms',
  words: 'mean of word vectors',
  field: 'a field',
  file: 'a file',
}
</script>

<template>
  <div class="room">
    <MakeRow v-if="choices && tried" what="the document vectors" v-bind="row" @make="make()">
      <label
        >from
        <select
          :value="tried.of"
          aria-label="What vectors are from"
          @change="set({ of: text($event) as Settings['of'] })">
          <option v-for="(title, way) in WAYS" :key="way" :value="way">{{ title }}</option>
        </select></label
      >
      <WeightingChoice
        v-if="tried.of === 'terms' || tried.of === 'words'"
        :choices="choices"
        :value="tried.weighting as Weighting"
        @change="set({ weighting: $event })" />
      <label v-if="tried.of === 'terms'"
        >numbers of a vector
        <input
          type="number"
          min="2"
          max="500"
          :value="tried.dimensions"
          aria-label="Numbers of a vector"
          @change="set({ dimensions: Number(text($event)) })"
      /></label>
      <label v-if="tried.of === 'words'"
        >near is within
        <input
          type="number"
          min="1"
          max="50"
          :value="tried.words?.window"
          aria-label="Words to either side"
          @change="set({ words: { ...tried.words, window: Number(text($event)) } })"
      /></label>
      <label v-if="tried.of === 'field'"
        >field
        <select :value="tried.field ?? ''" aria-label="Field of vectors" @change="set({ field: text($event) || null })">
          <option value=""></option>
          <option v-for="field in choices.vector_fields" :key="field">{{ field }}</option>
        </select></label
      >
      <template v-if="tried.of === 'file'">
        <VectorFile
          :file="tried.file"
          what="an array (.npy) or a Parquet table"
          accept=".npy,.parquet"
          @change="set({ file: $event })" />
        <label
          >its rows are
          <select
            :value="tried.key ?? ''"
            aria-label="How rows are matched"
            @change="set({ key: text($event) || null })">
            <option value="">in the order of the documents</option>
            <option v-for="field in choices.naming_fields" :key="field" :value="field">named by {{ field }}</option>
          </select></label
        >
      </template>
      <template #hint>
        Suggested: {{ choices.why.document_vectors }}.
        <template v-if="tried.of === 'field' && !choices.vector_fields.length">
          No field has the role vector: give it that role at Gather, Files.
        </template>
      </template>
    </MakeRow>
    <template v-if="made">
      <p class="small soft">
        {{ made.says }}<template v-if="made.without">; {{ counted(made.without, 'document') }} without</template>.
      </p>
      <details v-if="made.bad_rows" class="small">
        <summary class="loss">{{ counted(made.bad_rows, 'vector') }} can’t be read</summary>
        <ul>
          <li v-for="each in made.bad" :key="each.number">
            document {{ count(each.number) }}<template v-if="each.name"> ({{ each.name }})</template>: {{ each.reason }}
          </li>
        </ul>
      </details>
      <form class="row wrap small" @submit.prevent>
        <label
          >alike <input v-model="wanted" placeholder="words of a document" aria-label="Find a document" size="22"
        /></label>
        <button
          v-for="each in offered"
          :key="each.document"
          type="button"
          class="plain link"
          @click="((wanted = ''), choose(each.document))">
          {{ each.name }}
        </button>
        <button v-if="selected !== undefined" type="button" class="plain link" @click="choose(selected)">
          the one that is selected
        </button>
      </form>
      <p v-if="near.error.value" class="notice bad">{{ near.error.value.message }}</p>
      <div v-else-if="found" class="two">
        <section>
          <div class="row spread">
            <h2>Alike {{ found.name }}</h2>
            <span class="small">
              <button class="plain link" @click="read(found.document)">read it</button> ·
              <button class="plain link" @click="select({ alike: found.document })">these as evidence</button>
            </span>
          </div>
          <AlikeList
            :rows="found.nearest"
            :current="other"
            @pick="(at) => (setAddress({ other: String(at) }), select({ document: at }))" />
        </section>
        <section>
          <DocumentPair
            v-if="other >= 0"
            :key="`${found.document} ${other}`"
            :one="found.document"
            :other="other"
            @document="choose" />
          <template v-else>
            <h2>What makes them alike</h2>
            <p class="small soft">Select a document: the terms that both have stand here, with what each adds.</p>
          </template>
        </section>
      </div>
      <MiddleForm :identity="identity ?? ''" />
      <TypedVector :dimensions="made.dimensions" @document="choose" />
    </template>
    <RoomState v-else :made="!!identity" :fault="screen.error.value?.message" what="Reading the vectors">
      Documents become vectors: from their terms, from the vectors of their words, or as somebody else computed them.
      Then those alike one can be read, and laid out on a map.
    </RoomState>
  </div>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: minmax(0, 1.15fr) minmax(0, 1fr);
  gap: 1.6rem;
}
</style>
