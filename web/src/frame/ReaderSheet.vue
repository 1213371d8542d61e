<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { computed, nextTick, onMounted, ref } from 'vue'

import { ask, client } from '@/api/client'
import { strandPath, useStrand, useStrandParts } from '@/api/strand'
import { useTopics } from '@/api/topics'
import PassageText from '@/marks/PassageText.vue'
import TagLegend from '@/marks/TagLegend.vue'
import Swatch from '@/marks/Swatch.vue'
import { count, counted, percent } from '@/marks/format'

import { useKey } from './keys'
import PartsNav from './PartsNav.vue'
import { useAddress } from './address'
import { useEvidence } from './evidence'

const { get, set } = useAddress()
const { select, request } = useEvidence()
const { id, ply } = useStrand()
const { fit, label, dye, dyes } = useTopics()
const sheet = ref<HTMLElement>()
const document_ = computed(() => Number(get('read', '0')))
const marks = computed(() => get('marks', 'none') as 'none' | 'cleaning' | 'cleaned' | 'topics' | 'tags')
const find = ref('')
const expression = ref(false)
const wanted = computed(() => ({
  marks: marks.value,
  find: find.value,
  expression: expression.value,
}))
const reader = useStrandParts(
  'reader',
  () => [document_.value, wanted.value],
  (strand, part) =>
    ask(
      client.GET('/api/strands/{strand_id}/documents/{document}', {
        params: { path: { strand_id: strand, document: document_.value }, query: { ...wanted.value, part } },
      }),
    ),
)
const found = reader.first
const last = computed(() => reader.pages.value.at(-1))
/** The next part with a place that was found, beyond those shown. */
const further = computed(() => found.value?.matching?.find((part) => part > (last.value?.part ?? 0)))
const names = computed(() => new Map(found.value?.tags.map((each) => [each.tag, each.name])))
const alike = computed(() => {
  const query = { part: 'alike', doc: String(document_.value), ev: `alike=${document_.value}` }
  return { path: `/strand/${id.value}/relate`, query }
})
const close = () => set({ read: '', marks: '', at: '' })
/** Next and previous in the evidence the document was opened from, else in the corpus. */
async function go(by: number) {
  if (get('at') === '' || !request.value) return set({ read: String(Math.max(0, document_.value + by)) })
  const place = Math.max(0, Number(get('at')) + by)
  const query = { ...request.value, offset: place, limit: 1 }
  const next = await ask(
    client.GET('/api/strands/{strand_id}/evidence', { params: { ...strandPath(id.value), query } }),
  )
  const piece = next.pieces[0]
  if (piece) await set({ read: String(piece.document), at: String(place) })
}
const modes = computed(() => [
  { value: 'none', label: 'Text' },
  { value: 'cleaning', label: 'Cleaning' },
  { value: 'cleaned', label: 'What is left' },
  { value: 'tags', label: 'Parts of speech' },
  ...(fit.value ? [{ value: 'topics', label: 'Topics' }] : []),
])
useKey('j', 'next document', () => go(1))
useKey('k', 'previous document', () => go(-1))
useKey('Escape', 'close the reader', close)
onMounted(async () => {
  await nextTick()
  sheet.value?.focus()
})
</script>

<template>
  <div class="veil" @click="close" />
  <section ref="sheet" class="sheet" role="dialog" aria-label="Reader" tabindex="-1" @keydown.esc="close">
    <header>
      <h2 class="cut">{{ found?.name ?? 'Document' }}</h2>
      <span class="soft cut">{{ found?.brief }}</span>
      <span class="grow" />
      <RouterLink v-if="ply('document_vectors')?.identity" :to="alike">alike</RouterLink>
      <button class="plain" @click="go(-1)">
        <span class="hidden-text">Previous document</span><span aria-hidden="true"><kbd>k</kbd> ◂</span>
      </button>
      <button class="plain" @click="go(1)">
        <span class="hidden-text">Next document</span><span aria-hidden="true">▸ <kbd>j</kbd></span>
      </button>
      <button class="plain" aria-label="Close the reader" @click="close">×</button>
    </header>
    <div v-if="reader.error.value" class="body">
      <p class="notice bad">{{ reader.error.value.message }}</p>
    </div>
    <div v-if="found" class="body columns">
      <div>
        <div class="row wrap tools">
          <div role="group" aria-label="Marks">
            <button
              v-for="each in modes"
              :key="each.value"
              class="plain mode"
              :aria-pressed="marks === each.value"
              @click="set({ marks: each.value === 'none' ? '' : each.value })">
              {{ each.label }}
            </button>
          </div>
          <InputText
            v-model.lazy="find"
            size="small"
            placeholder="Find in this document"
            aria-label="Find in this document" />
          <label class="row small"><input v-model="expression" type="checkbox" /> regular expression</label>
          <span v-if="found.matches !== null && found.matches !== undefined" class="soft small">{{
            counted(found.matches, 'place')
          }}</span>
          <button v-if="further !== undefined" class="plain link small" @click="reader.goTo(further)">
            next place
          </button>
        </div>
        <TagLegend v-if="marks === 'tags' && found.tags.length" :tags="found.tags" class="legend" />
        <div class="text" :class="marks" :dir="found.right_to_left ? 'rtl' : 'ltr'">
          <PartsNav
            v-if="reader.hasPreviousPage.value"
            edge="above"
            :part="found.part"
            :parts="found.parts"
            :loading="reader.isFetching.value"
            @more="reader.fetchPreviousPage()"
            @go="reader.goTo" />
          <PassageText
            v-for="page in reader.pages.value"
            :key="page.part"
            :pieces="page.segments"
            :dyes="dyes"
            :names="names" />
          <PartsNav
            v-if="last && reader.hasNextPage.value"
            edge="below"
            :part="last.part"
            :parts="last.parts"
            :loading="reader.isFetching.value"
            @more="reader.fetchNextPage()"
            @go="reader.goTo" />
        </div>
      </div>
      <dl>
        <template v-for="(value, name) in found.fields" :key="name">
          <dt>{{ name }}</dt>
          <dd>{{ value }}</dd>
        </template>
        <dt>words</dt>
        <dd>{{ count(found.words) }}</dd>
        <dt>from</dt>
        <dd>{{ found.place }}</dd>
        <template v-if="found.topics.length">
          <dt>topics</dt>
          <dd v-for="topic in found.topics" :key="topic.topic">
            <button class="plain row" @click="select({ topic: topic.topic })">
              <Swatch :dye="dye(topic.topic)" /> {{ label(topic.topic) }}
              <span class="soft numbers">{{ percent(topic.share, 0) }}</span>
            </button>
          </dd>
        </template>
      </dl>
    </div>
  </section>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 15rem;
  gap: 2rem;
}
.tools {
  margin-bottom: 1rem;
}
.legend {
  margin-bottom: 0.8rem;
}
.text {
  font-size: 1.15rem;
  line-height: 1.75;
  max-width: 44rem;
}
.text.cleaning {
  line-height: 2.3;
}
dl {
  margin: 0;
  border-left: 1px solid var(--hairline);
  padding-left: 1.2rem;
}
dt {
  color: var(--soft);
  font-size: 0.86rem;
  margin-top: 0.6rem;
}
dd {
  margin: 0;
  overflow-wrap: anywhere;
}
</style>
