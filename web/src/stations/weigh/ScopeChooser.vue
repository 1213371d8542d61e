<script setup lang="ts">
import { computed } from 'vue'

import { period } from '@/marks/format'

import { useScope } from './scope'

/** Of which documents: all, a group, a period, one. */
const { choices, get, set, whole } = useScope()
const text = (event: Event) => (event.target as HTMLInputElement).value
const values = computed(() => choices.value?.fields.find((each) => each.field === get('by'))?.values ?? [])
function setField(field: string) {
  const first = choices.value?.fields.find((each) => each.field === field)?.values[0]
  set({ by: field, value: field ? first : '', doc: '' })
}
</script>

<template>
  <span v-if="choices" class="row wrap small scope" role="group" aria-label="Of which documents">
    <span>of</span>
    <select :value="get('by')" aria-label="Group by" @change="setField(text($event))">
      <option value="">all groups</option>
      <option v-for="each in choices.fields" :key="each.field">{{ each.field }}</option>
    </select>
    <select v-if="get('by')" :value="get('value')" aria-label="Group" @change="set({ value: text($event) })">
      <option v-for="value in values" :key="value">{{ value }}</option>
    </select>
    <select
      v-if="choices.periods.length"
      :value="get('when')"
      aria-label="Period"
      @change="set({ when: text($event), doc: '' })">
      <option value="">all the time</option>
      <option v-for="each in choices.periods" :key="each" :value="each">{{ period(each) }}</option>
    </select>
    <label
      >document
      <input
        type="number"
        min="1"
        placeholder="all"
        :value="get('doc')"
        aria-label="One document, by its number"
        @change="set({ doc: text($event), by: '', value: '', when: '' })"
    /></label>
    <button v-if="!whole" class="plain link" @click="set({ by: '', value: '', when: '', doc: '' })">
      all documents
    </button>
  </span>
</template>

<style scoped>
.scope select {
  max-width: 11rem;
}
.scope input {
  width: 5rem;
}
</style>
