<script setup lang="ts">
import { computed } from 'vue'

import { useStrand } from '@/api/strand'
import { useAddress } from '@/frame/address'

import FamiliesTable from './FamiliesTable.vue'
import LeftOut from './LeftOut.vue'
import SuggestedWords from './SuggestedWords.vue'
import WordTrace from './WordTrace.vue'
import { useForms } from './forms'

/** One word through all passes, the words that were left out, those that may tell nothing, and families. */
/** `trace`: how often the key for it was pressed. */
defineProps<{ trace?: number }>()
const { ply } = useStrand()
const { get, set } = useAddress()
const traced = computed({ get: () => get('trace'), set: (word) => set({ trace: word }) })
const found = useForms()
</script>

<template>
  <div class="two">
    <WordTrace v-model="traced" :wanted="trace" />
    <LeftOut v-if="ply('cleaning')?.identity" />
  </div>
  <SuggestedWords v-if="ply('cleaning')?.identity" />
  <FamiliesTable :families="found?.wanted ?? []" />
</template>

<style scoped>
.two {
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 1.6rem;
}
</style>
