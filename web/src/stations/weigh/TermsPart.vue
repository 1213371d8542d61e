<script setup lang="ts">
import { computed } from 'vue'

import { useAddress } from '@/frame/address'
import { useLeaveOut } from '@/frame/leaving'
import Waiting from '@/frame/Waiting.vue'

import ScopeChooser from './ScopeChooser.vue'
import { useTopTerms } from './top'
import TopTerms from './TopTerms.vue'
import VocabularyCurves from './VocabularyCurves.vue'
import VocabularyTable from './VocabularyTable.vue'
import WordsOnThreads from './WordsOnThreads.vue'

/** The vocabulary: its top terms, of any documents, as bars or strung; every term; how it is spread. */
const { get, set } = useAddress()
const { leaveTermOut } = useLeaveOut()
const strung = computed(() => get('as') === 'words')
const top = useTopTerms(() => (strung.value ? 80 : 25))
const found = computed(() => top.data.value)
</script>

<template>
  <div class="parts">
    <div class="row wrap">
      <span role="group" aria-label="Bars or words" class="small">
        <button class="plain mode" :aria-pressed="!strung" @click="set({ as: '' })">bars</button>
        <button class="plain mode" :aria-pressed="strung" @click="set({ as: 'words' })">words on threads</button>
      </span>
      <ScopeChooser />
    </div>
    <p v-if="top.error.value" class="notice bad">{{ top.error.value.message }}</p>
    <p v-else-if="found && !found.terms.length" class="soft">None of these documents holds a term.</p>
    <div v-if="found" :class="strung ? 'parts' : 'two'">
      <WordsOnThreads v-if="strung" :found="found" />
      <TopTerms v-else :found="found" @leave="leaveTermOut" />
      <VocabularyTable @leave="leaveTermOut" />
    </div>
    <Waiting v-else-if="!top.error.value" what="Adding up the weights" />
    <VocabularyCurves />
  </div>
</template>

<style scoped>
.parts {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 1rem;
  min-width: 0;
}
.two {
  grid-template-columns: minmax(0, 5fr) minmax(0, 7fr);
}
</style>
