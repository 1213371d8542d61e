<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref, watch } from 'vue'

import type { Schemas } from '@/api/client'
import { useWanted } from '@/api/strand'
import { useEvidence } from '@/frame/evidence'
import { say } from '@/frame/notices'
import { count, decimal } from '@/marks/format'

import { asSeedWords } from './hand'
import { useHanding } from './handing'

/** One cluster: all of its words, and what can be done with them. */
const props = defineProps<{ cluster: Schemas['ClusterRow']; words: boolean; open: boolean }>()
defineEmits<{ toggle: [] }>()
const { select } = useEvidence()
const { wanted, change } = useWanted()
const seeded = computed(() => wanted.value?.seed_words?.some((set) => set.join() === props.cluster.terms.join()))
const { takeAsOne, takeAsTerm } = useHanding()
/** A few words may stand in a row; in which order is for the analyst to say. */
const FEW = 4
const inRow = ref('')
watch(
  () => props.cluster.words,
  (words) => (inRow.value = words.join(' ')),
  { immediate: true },
)
async function seed() {
  if (await change({ seed_words: asSeedWords(wanted.value?.seed_words ?? [], props.cluster.terms) }))
    say(seeded.value ? 'Kept as words for a topic to begin with.' : 'No longer kept.')
}
</script>

<template>
  <section class="handed">
    <div class="row wrap spread">
      <h2>{{ cluster.heads.join(' ') }}</h2>
      <span class="soft small numbers"
        >{{ count(cluster.size) }} {{ words ? 'words' : 'documents' }} · joined at {{ decimal(cluster.height) }}
        <template v-if="cluster.recurrence != null"> · comes back {{ decimal(cluster.recurrence) }}</template></span
      >
    </div>
    <p v-if="words" class="row wrap words book">
      <button v-for="(term, at) in cluster.terms" :key="term" class="plain" @click="select({ term })">
        {{ cluster.words[at] }}
      </button>
    </p>
    <p v-else class="row wrap words">
      <button
        v-for="each in cluster.documents"
        :key="each.document"
        class="plain"
        @click="select({ document: each.document })">
        {{ each.name }}
      </button>
    </p>
    <div class="row wrap">
      <Button size="small" severity="secondary" :label="open ? 'Fold' : 'Unfold'" @click="$emit('toggle')" />
      <template v-if="words">
        <Button
          size="small"
          severity="secondary"
          label="One word at Clean"
          title="The words of this cluster count as the first of them"
          @click="takeAsOne(cluster.terms, `${count(cluster.terms.length)} words as “${cluster.words[0]}”`)" />
        <Button
          size="small"
          severity="secondary"
          :label="seeded ? 'Not for a topic' : 'Keep for a topic to begin with'"
          @click="seed" />
      </template>
      <form v-if="words && cluster.words.length <= FEW" class="row" @submit.prevent="takeAsTerm(inRow.trim())">
        <input v-model="inRow" required aria-label="Words in a row" />
        <Button type="submit" size="small" severity="secondary" label="One term at Clean" />
      </form>
      <span class="soft small">Its documents are in the evidence; “as a filter” there takes them to Gather.</span>
    </div>
  </section>
</template>

<style scoped>
.handed {
  border-top: 1px solid var(--soft);
  padding-top: 0.5rem;
  display: grid;
  gap: 0.4rem;
}
.words {
  gap: 0.1rem 0.8rem;
  margin: 0;
}
.words button:hover {
  color: var(--woad);
  text-decoration: underline;
}
</style>
