<script setup lang="ts">
import { computed, ref, watch } from 'vue'

import { ask, client } from '@/api/client'
import { strandPath, useStrand, useStrandQuery } from '@/api/strand'
import { useAddress } from '@/frame/address'
import { useEvidence } from '@/frame/evidence'
import { useKey } from '@/frame/keys'
import StaleNotice from '@/frame/StaleNotice.vue'
import Waiting from '@/frame/Waiting.vue'
import TagLegend from '@/marks/TagLegend.vue'
import { count, counted } from '@/marks/format'
import { byOffset } from '@/marks/tags'

import SpecimenPaper from './SpecimenPaper.vue'
import { usePasses } from './passes'
import { differing, said } from './specimen'

/** `until`: the last pass to apply; `whole`: what the whole corpus says is known by now. */
const props = defineProps<{ until: string; whole: boolean }>()
const emit = defineEmits<{ all: []; trace: [string] }>()
const { strand, made } = useStrand()
const passes = usePasses()
const { get, set } = useAddress()
const { read } = useEvidence()
const typing = ref(false)
const typed = ref('')
const wanted = ref('')
const beside = ref('')
const total = computed(() => made.value.corpus?.documents ?? 0)
const chosen = computed(() => (get('doc') === '' ? undefined : Number(get('doc'))))
const part = ref(0)
watch(chosen, () => (part.value = 0))
const query = computed(() => ({
  document: chosen.value,
  part: part.value,
  text: typing.value ? wanted.value : '',
  until: props.until,
  quick: !props.whole,
}))
let timer: ReturnType<typeof setTimeout> | undefined
watch(typed, (text) => {
  clearTimeout(timer)
  timer = setTimeout(() => (wanted.value = text), 60)
})
const key = () => [query.value, strand.value?.wanted.clean]
const specimen = useStrandQuery(
  'specimen',
  key,
  (id) => ask(client.GET('/api/strands/{strand_id}/specimen', { params: { ...strandPath(id), query: query.value } })),
  () => total.value > 0,
)
const found = computed(() => specimen.data.value)
const others = useStrandQuery(
  'other cleanings',
  () => strand.value?.wanted.clean,
  (id) => ask(client.GET('/api/strands/{strand_id}/other-cleanings', { params: strandPath(id) })),
  () => total.value > 0,
)
const compared = computed(() => others.data.value?.find((each) => each.key === beside.value))
const other = useStrandQuery(
  'specimen beside',
  () => [...key(), found.value?.document, compared.value?.key],
  (id) =>
    ask(
      client.GET('/api/strands/{strand_id}/specimen/beside/{key}', {
        params: {
          path: { strand_id: id, key: compared.value!.key },
          query: { ...query.value, document: found.value?.document, until: '' },
        },
      }),
    ),
  () => !!compared.value && !!found.value,
)
const unlike = computed(() =>
  compared.value && other.data.value && found.value
    ? differing(other.data.value.segments, found.value.segments)
    : undefined,
)
const marked = ref(false)
const tags = useStrandQuery(
  'tags of the specimen',
  () => [found.value?.document, part.value, query.value.text, strand.value?.wanted.clean],
  (id) =>
    ask(
      client.GET('/api/strands/{strand_id}/tags', {
        params: {
          ...strandPath(id),
          query: { document: found.value?.document ?? undefined, part: part.value, text: query.value.text },
        },
      }),
    ),
  () => marked.value && !!found.value,
)
const tagged = computed(() => (marked.value && tags.data.value ? byOffset(tags.data.value.segments) : undefined))
const names = computed(() => new Map(tags.data.value?.tags.map((each) => [each.tag, each.name])))
const looked = ref<number | null>(null)
const piece = computed(() => (looked.value === null ? undefined : found.value?.segments[looked.value]))
const untilTitle = computed(() => {
  const at = passes.list.value.findIndex((each) => each.key === props.until)
  return at < 0 ? '' : `after ${passes.title(passes.list.value[at])}, pass ${at + 1} of ${passes.list.value.length}`
})
const here = computed(() => found.value?.document ?? 0)
const open = (document: number) => {
  typing.value = false
  set({ doc: String(document) })
}
const go = (by: number) => open((here.value + by + total.value) % total.value)
const atRandom = () => open(Math.floor(Math.random() * total.value))
function typeOne() {
  typing.value = !typing.value
  if (typing.value && !typed.value)
    typed.value =
      found.value?.segments
        .map((each) => each.text)
        .join('')
        .slice(0, 300) ?? ''
}
useKey('j', 'next specimen', () => go(1))
useKey('k', 'previous specimen', () => go(-1))
useKey('o', 'a specimen at random', atRandom)
</script>

<template>
  <section>
    <div class="row head wrap">
      <h1>Specimen</h1>
      <span v-if="found && !typing" class="soft cut grow"
        >{{ found.name }}{{ found.brief ? ` · ${found.brief}` : '' }} · {{ found.language }}</span
      >
      <span v-else class="soft grow">{{ typing ? 'typed in' : '' }}</span>
      <button class="plain" @click="go(-1)">
        <span class="hidden-text">Previous specimen</span><span aria-hidden="true">◂ <kbd>k</kbd></span>
      </button>
      <button class="plain" @click="go(1)">
        <span class="hidden-text">Next specimen</span><span aria-hidden="true"><kbd>j</kbd> ▸</span>
      </button>
      <button class="plain link" @click="atRandom">another</button>
      <button class="plain link" @click="(set({ doc: '' }), (typing = false))">typical</button>
      <button class="plain link" :aria-pressed="typing" @click="typeOne">type one</button>
      <button class="plain link" :aria-pressed="marked" @click="marked = !marked">parts of speech</button>
      <button v-if="found && !typing" class="plain link" @click="read(here)">open</button>
    </div>
    <p v-if="specimen.error.value" class="notice bad">{{ specimen.error.value.message }}</p>
    <textarea v-if="typing" v-model="typed" rows="2" class="book typed" aria-label="A text of your own" />
    <Waiting v-if="!found && !specimen.error.value && total" :what="`Cleaning one of ${counted(total, 'document')}`" />
    <p v-else-if="!total" class="soft">There are no documents yet. Bring some in at Gather.</p>
    <template v-if="found">
      <template v-if="marked && tags.data.value">
        <p v-if="tags.data.value.note" class="notice small">{{ tags.data.value.note }}</p>
        <TagLegend :tags="tags.data.value.tags" />
      </template>
      <div :class="{ side: compared }">
        <div v-if="compared">
          <p class="soft small label cut" :title="compared.unlike.join(', ')">
            {{ compared.title }}, which differs in {{ compared.unlike.join(', ') }}
          </p>
          <SpecimenPaper
            :pieces="other.data.value?.segments ?? []"
            :called="`Specimen text ${compared.title}`"
            :right-to-left="found.right_to_left"
            :differing="unlike?.[0]" />
        </div>
        <div>
          <p v-if="compared" class="soft small label">now: {{ counted(unlike?.[1].size ?? 0, 'token') }} otherwise</p>
          <SpecimenPaper
            :class="{ waiting: specimen.isPlaceholderData.value }"
            :pieces="found.segments"
            called="Specimen text"
            :right-to-left="found.right_to_left"
            :differing="unlike?.[1]"
            :tags="tagged"
            :names="names"
            @look="looked = $event"
            @choose="emit('trace', found.segments[$event].text)" />
        </div>
      </div>
      <div v-if="found.parts > 1" class="row small" role="group" aria-label="Parts of the document">
        <button class="plain link" :disabled="part === 0" @click="part--">what stands before</button>
        <span class="soft">part {{ count(part + 1) }} of {{ count(found.parts) }}</span>
        <button class="plain link" :disabled="part + 1 >= found.parts" @click="part++">what follows</button>
      </div>
      <div class="row spread small below">
        <span class="cut grow" aria-live="polite">
          <template v-if="piece && piece.kind !== 'plain'">
            <span class="book">{{ said(piece) }}</span>
          </template>
          <span v-else class="soft">Point at a word, or <kbd>←</kbd> <kbd>→</kbd>, to see what each pass did.</span>
        </span>
        <button v-if="piece && piece.kind !== 'plain'" class="plain link" @click="emit('trace', piece.text)">
          trace it
        </button>
        <button v-if="until" class="plain chip" @click="emit('all')">{{ untilTitle }} · show all</button>
        <span v-if="found.sample" class="soft">as {{ count(found.sample) }} documents have it</span>
        <select v-model="beside" aria-label="Compare with">
          <option value="">compare with …</option>
          <option v-for="each in others.data.value" :key="each.key" :value="each.key">{{ each.title }}</option>
        </select>
      </div>
      <StaleNotice :steps="['corpus', 'cleaning']">These passes are tried here, and not applied yet.</StaleNotice>
    </template>
  </section>
</template>

<style scoped>
.head {
  align-items: baseline;
  margin-bottom: 0.3rem;
}
.typed {
  width: 100%;
  font-size: 1.05rem;
  margin-bottom: 0.4rem;
  resize: vertical;
}
.side {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 0.8rem;
}
.label {
  margin: 0;
}
.below {
  min-height: 2rem;
  padding: 0.3rem 0;
}
.waiting {
  opacity: 0.7;
}
</style>
