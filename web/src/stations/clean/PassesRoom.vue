<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '@/api/client'
import { useStrand } from '@/api/strand'
import Waiting from '@/frame/Waiting.vue'
import { useAddress } from '@/frame/address'
import { counted } from '@/marks/format'

import EffectPanel from './EffectPanel.vue'
import SpecimenPanel from './SpecimenPanel.vue'
import SurvivorsPanel from './SurvivorsPanel.vue'

/** A document with what became of every word, what is left of the whole corpus, and what the open pass does. */
defineProps<{ found?: Schemas['Survivors']; whole: boolean }>()
const open = defineModel<string>('open', { required: true })
const { strand, ply, made } = useStrand()
const { set } = useAddress()
const total = computed(() => made.value.corpus?.documents ?? 0)
const stale = computed(() => ply('cleaning')?.state === 'stale')
const until = computed(() => (open.value === 'rule' ? 'tokens' : open.value))
const isPass = computed(() => strand.value?.wanted.clean?.passes?.some((each) => each.key === open.value && each.on))
</script>

<template>
  <SpecimenPanel
    :until="until"
    :whole="whole"
    @all="open = ''"
    @trace="(word) => set({ part: 'words', trace: word })" />
  <Waiting v-if="!found && total" :what="`Counting what survives of ${counted(total, 'document')}`" />
  <div v-if="found" :class="{ two: isPass }">
    <SurvivorsPanel :found="found" :made="!!ply('cleaning')?.identity" :stale="stale" :total="total" />
    <EffectPanel v-if="isPass" :pass="open" />
  </div>
</template>

<style scoped>
.two {
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 1.6rem;
}
.two > * {
  min-width: 0;
}
@media (max-width: 1180px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
