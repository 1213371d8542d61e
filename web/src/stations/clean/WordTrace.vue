<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { computed, onMounted, ref, watch } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { strandPath, useStrand, useStrandQuery } from '@/api/strand'
import { useEvidence } from '@/frame/evidence'
import { count, counted } from '@/marks/format'

import { usePasses, type Pass } from './passes'

/** Why a word is in the vocabulary or not, and how it comes back. */
const word = defineModel<string>({ required: true })
const props = defineProps<{ wanted?: number }>()
const section = ref<HTMLElement>()
onMounted(() =>
  watch(
    () => props.wanted,
    (times) => times && section.value?.querySelector('input')?.focus(),
    { immediate: true },
  ),
)
const { strand } = useStrand()
const { select } = useEvidence()
const passes = usePasses()
const query = useStrandQuery(
  'word',
  () => [word.value.trim(), strand.value?.wanted.clean, strand.value?.wanted.weigh],
  (id) =>
    ask(
      client.GET('/api/strands/{strand_id}/word', {
        params: { ...strandPath(id), query: { word: word.value.trim() } },
      }),
    ),
  () => word.value.trim() !== '',
)
const found = computed(() => (word.value.trim() ? query.data.value : undefined))
type Fate = Schemas['WordFate']
const last = (fate: Fate) => fate.steps.at(-1)?.form ?? fate.words[0]
const remedies: Record<string, string> = {
  unlist: 'take it off the list',
  spare: 'spare it from the list',
  keep: 'keep it, whatever the passes say',
}
function bringBack(fate: Fate) {
  const at = passes.list.value.findIndex((each) => each.key === fate.removed_by)
  const pass = passes.list.value[at] as (Pass & { words?: string[]; own?: string[]; keep?: string[] }) | undefined
  if (!pass) return
  const same = (each: string) => each.toLowerCase() !== last(fate).toLowerCase()
  if (fate.remedy === 'unlist')
    passes.set(at, pass.words ? { words: pass.words.filter(same) } : { own: (pass.own ?? []).filter(same) })
  else if (fate.remedy === 'spare') passes.set(at, { keep: [...(pass.keep ?? []), last(fate).toLowerCase()] })
  else passes.keepBefore(at, last(fate))
}
</script>

<template>
  <section ref="section" class="trace">
    <div class="row">
      <h2>Trace a word <kbd>w</kbd></h2>
      <InputText v-model="word" size="small" placeholder="any word of the texts" aria-label="A word to trace" />
      <button v-if="word" class="plain" aria-label="Close the trace" @click="word = ''">×</button>
    </div>
    <p v-if="query.error.value && word" class="notice bad">{{ query.error.value.message }}</p>
    <p v-if="found && !found.fates.length" class="soft">
      No text holds “{{ found.word }}” as a word{{
        found.sample ? ` in the ${count(found.sample)} documents looked at` : ''
      }}.
    </p>
    <div v-for="fate in found?.fates ?? []" :key="fate.words[0]" class="fate">
      <button class="plain book" @click="select({ word: fate.words[0] })">{{ fate.words.join(', ') }}</button>{{ ' ' }}
      <span class="soft small">{{ counted(fate.tokens, 'token') }} in {{ counted(fate.documents, 'document') }}</span>
      <p>
        <template v-for="step in fate.steps" :key="step.key">
          {{ step.title }} makes it <span class="book form">{{ step.form }}</span>.
        </template>
        <template v-if="fate.removed_by">
          <span class="loss">{{ fate.title }} removes it{{ fate.why ? ` (${fate.why})` : '' }}.</span>
          <button v-if="remedies[fate.remedy]" class="plain link" @click="bringBack(fate)">
            {{ remedies[fate.remedy] }}
          </button>
        </template>
        <template v-else>It is {{ fate.vocabulary }}.</template>
      </p>
    </div>
  </section>
</template>

<style scoped>
h2 {
  white-space: nowrap;
}
.row input {
  min-width: 0;
  flex: 1;
}
.fate {
  padding: 0.3rem 0;
}
.fate p {
  margin: 0.1rem 0 0;
}
.form {
  color: var(--woad);
}
</style>
