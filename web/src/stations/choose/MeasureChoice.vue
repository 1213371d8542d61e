<script setup lang="ts">
import { computed } from 'vue'

import { useFits, useHow, useReferences } from './choose'
import type { Measure } from './sweep'

/** Which measures are shown, by how many top words, and which count for the choice. */
defineProps<{ measures: Measure[]; series: string[]; of: number }>()
const { how, set } = useHow()
const { shownMeasures } = useFits()
const references = useReferences()
const on = computed(() => shownMeasures.value.map((each) => each.key))
const toggled = (list: string[], key: string) =>
  list.includes(key) ? list.filter((each) => each !== key) : [...list, key]
const toggle = (key: string) => set({ show: toggled(on.value, key).join(',') })
const leaving = computed(() => (how.value.leaving ?? []) as string[])
const leave = (key: string) => set({ leaving: toggled(leaving.value, key).join(',') })
const value = (event: Event) => (event.target as HTMLSelectElement).value
</script>

<template>
  <details class="choice">
    <summary>
      Measures
      <span class="soft small">{{ on.length }} of {{ measures.length }} shown, by {{ how.top }} top words</span>
    </summary>
    <div class="row wrap">
      <label v-for="each in measures" :key="each.key" :title="`It does not see ${each.misses}.`"
        ><input type="checkbox" :checked="on.includes(each.key)" @change="toggle(each.key)" /> {{ each.title }}</label
      >
    </div>
    <div class="row wrap">
      <label
        >top words
        <select :value="how.top" aria-label="Top words" @change="set({ top: value($event) })">
          <option v-for="top in [5, 10, 20]" :key="top">{{ top }}</option>
        </select></label
      >
      <label
        >counts are suggested by
        <select :value="how.by" aria-label="Coherence that counts" @change="set({ by: value($event) })">
          <option v-for="each in measures.filter((each) => each.coherence)" :key="each.key" :value="each.key">
            {{ each.title }}
          </option>
        </select></label
      >
      <label
        ><input type="checkbox" :checked="!leaving.includes('stability')" @change="leave('stability')" /> then
        stability</label
      >
      <label
        ><input type="checkbox" :checked="!leaving.includes('held_out')" @change="leave('held_out')" /> and held-out
        fit</label
      >
      <label v-if="references.data.value?.length" class="series"
        >coherence in
        <select
          :value="how.reference ?? ''"
          aria-label="Texts for coherence"
          @change="set({ reference: value($event) })">
          <option value="">these documents</option>
          <option v-for="each in references.data.value" :key="each.cleaning" :value="each.cleaning">
            {{ each.title }}
          </option>
        </select></label
      >
      <label v-if="series.length > 1" class="series"
        >settings compared
        <select :value="of" aria-label="Series of settings" @change="set({ series: value($event), fit: '' })">
          <option v-for="(name, at) in series" :key="at" :value="at">{{ name }}</option>
        </select></label
      >
    </div>
  </details>
</template>

<style scoped>
.choice > div {
  gap: 0.3rem 1.1rem;
  margin-top: 0.4rem;
}
summary {
  cursor: pointer;
  min-height: 24px;
}
.series select {
  max-width: 22rem;
}
</style>
