<script setup lang="ts">
import { computed, ref, watch } from 'vue'

import { ask, client } from '@/api/client'
import { strandPath, useStrand, useWanted } from '@/api/strand'
import Waiting from '@/frame/Waiting.vue'
import { useKey } from '@/frame/keys'
import { counted } from '@/marks/format'

import EffectPanel from './EffectPanel.vue'
import FamiliesTable from './FamiliesTable.vue'
import NamesPanel from './NamesPanel.vue'
import PartsOfSpeech from './PartsOfSpeech.vue'
import PassList from './PassList.vue'
import PhrasesPanel from './PhrasesPanel.vue'
import SpecimenPanel from './SpecimenPanel.vue'
import SuggestedWords from './SuggestedWords.vue'
import SurvivorsPanel from './SurvivorsPanel.vue'
import WordForms from './WordForms.vue'
import WordTrace from './WordTrace.vue'
import { useSoonThenWhole } from './soon'

const { strand, ply, made } = useStrand()
const { undo, redo } = useWanted()
const total = computed(() => made.value.corpus?.documents ?? 0)
const open = ref('')
const traced = ref('')
const { found, whole, error } = useSoonThenWhole('survivors', (id, quick) =>
  ask(client.GET('/api/strands/{strand_id}/survivors', { params: { ...strandPath(id), query: { quick } } })),
)
const { found: forms } = useSoonThenWhole('word forms', (id, quick) =>
  ask(client.GET('/api/strands/{strand_id}/word-forms', { params: { ...strandPath(id), query: { quick } } })),
)
/** The beginning of the specimen, to compare word forms on. */
const sentence = ref({ text: '', language: '' })
const stale = computed(() => ply('cleaning')?.state === 'stale')
const until = computed(() => (open.value === 'rule' ? 'tokens' : open.value))
const isPass = computed(() => strand.value?.wanted.clean?.passes?.some((each) => each.key === open.value && each.on))
watch(
  () => strand.value?.wanted.clean?.passes?.map((each) => each.key),
  (keys) => open.value !== 'rule' && !keys?.includes(open.value) && (open.value = ''),
)
useKey('w', 'trace a word', () => document.querySelector<HTMLElement>('.trace input')?.focus())
</script>

<template>
  <div class="station clean">
    <p v-if="error" class="notice bad wide">{{ error.message }}</p>
    <p v-if="found?.emptied" class="notice bad wide">{{ found.emptied }}</p>
    <section class="left">
      <div class="row spread">
        <h1>Passes</h1>
        <span class="row small">
          <button class="plain" :disabled="!strand?.undo" @click="undo()">undo <kbd>u</kbd></button>
          <button class="plain" :disabled="!strand?.redo" @click="redo()">redo</button>
        </span>
      </div>
      <p class="soft small">in this order; drag, or <kbd>alt</kbd> <kbd>↑</kbd><kbd>↓</kbd></p>
      <PassList v-model:open="open" :survivals="found?.survivals ?? []" />
    </section>
    <div class="right">
      <SpecimenPanel
        :until="until"
        :whole="whole"
        @all="open = ''"
        @trace="traced = $event"
        @shown="sentence = $event" />
      <p v-if="found?.change" class="small change" role="status">{{ found.change }}</p>
      <Waiting v-if="!found && !error && total" :what="`Counting what survives of ${counted(total, 'document')}`" />
      <div v-if="found" class="two">
        <div>
          <SurvivorsPanel :found="found" :made="!!ply('cleaning')?.identity" :stale="stale" :total="total" />
          <WordTrace v-model="traced" />
        </div>
        <EffectPanel v-if="isPass" :pass="open" />
        <FamiliesTable v-else :families="forms?.wanted ?? []" />
      </div>
      <WordForms v-if="found" :found="forms" :sentence="sentence" />
      <PartsOfSpeech v-if="found" :sentence="sentence.text" />
      <PhrasesPanel v-if="ply('cleaning')?.identity" />
      <NamesPanel v-if="ply('cleaning')?.identity" />
      <SuggestedWords v-if="ply('cleaning')?.identity" />
    </div>
  </div>
</template>

<style scoped>
.clean {
  display: grid;
  grid-template-columns: 17.5rem minmax(0, 1fr);
  gap: 1.5rem;
  align-content: start;
}
.wide {
  grid-column: 1 / -1;
}
.change {
  border-left: 3px solid var(--woad);
  padding-left: 0.6rem;
  margin: 0.3rem 0 0.8rem;
}
.two {
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 1.6rem;
}
button:disabled {
  color: var(--soft);
}
.right,
.two > * {
  min-width: 0;
  overflow-x: auto;
}
@media (max-width: 1180px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
