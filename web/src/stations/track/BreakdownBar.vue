<script setup lang="ts">
import { computed, ref } from 'vue'

import { useTopics } from '@/api/topics'

import { useBreakdown } from './breakdown'

/** By what prevalence is broken down, in one row; what is seldom changed folds out. `bare` of how documents count. */
defineProps<{ timeless?: boolean; groupless?: boolean; bare?: boolean }>()
const { sharesOf } = useTopics()
const { choices, group, period, breaks, unit, weight, fixed, get, set } = useBreakdown()
const more = ref(false)
const BREAKS = 'chosen days'
const given = ref('')
const value = (event: Event) => (event.target as HTMLSelectElement).value
const unitOptions = computed(() =>
  ['documents', ...(choices.value?.unit_fields ?? [])].filter((each) => each !== group.value),
)
const fixedOptions = computed(() =>
  (choices.value?.fixed_fields ?? []).filter(
    (each) => each !== group.value && !(each === 'date' && (period.value || breaks.value.length)),
  ),
)
const cutting = computed(() => get('each') === BREAKS || breaks.value.length > 0)
function cut(each: string) {
  if (each !== BREAKS) set({ each, break: [] })
  else set({ each: BREAKS })
}
function setBreaks() {
  const days = given.value.match(/\d{4}-\d{2}-\d{2}/g) ?? []
  set({ break: [...new Set(days)].sort(), each: days.length ? '' : BREAKS })
}
function toggle(field: string) {
  set({ fixed: fixed.value.includes(field) ? fixed.value.filter((each) => each !== field) : [...fixed.value, field] })
}
</script>

<template>
  <div class="bar" role="group" aria-label="Broken down by">
    <label v-if="!groupless" class="small"
      >by
      <select :value="group ?? 'none'" aria-label="Group field" @change="set({ by: value($event), page: '', ev: '' })">
        <option v-for="each in ['none', ...(choices?.group_fields ?? [])]" :key="each">{{ each }}</option>
      </select></label
    >
    <label v-if="!timeless && choices?.dated" class="small"
      >each
      <select :value="cutting ? BREAKS : (period ?? 'none')" aria-label="Period" @change="cut(value($event))">
        <option v-for="each in ['none', ...choices.periods, BREAKS]" :key="each">{{ each }}</option>
      </select></label
    >
    <label v-if="!bare && sharesOf !== 'documents'" class="small"
      >of
      <select
        :value="weight"
        aria-label="Weight"
        @change="set({ weight: value($event) === 'tokens' ? '' : value($event) })">
        <option>tokens</option>
        <option>documents</option>
      </select></label
    >
    <label class="small"
      >sampled
      <select :value="unit ?? 'documents'" aria-label="Sampled unit" @change="set({ unit: value($event) })">
        <option v-for="each in unitOptions" :key="each">{{ each }}</option>
      </select></label
    >
    <button
      v-if="!bare && (fixedOptions.length || choices?.design_fields.length)"
      class="plain link small"
      :aria-expanded="more"
      @click="more = !more">
      {{ more ? 'fewer' : 'more' }}
    </button>
    <slot />
    <form v-if="cutting && !timeless" class="wide small" @submit.prevent="setBreaks">
      <label class="grow"
        >days that each begin a stretch
        <input
          v-model="given"
          aria-label="Days that begin a stretch"
          :placeholder="breaks.join(', ') || '2014-01-01, 2017-04-01'"
          size="40" /></label
      ><button class="plain chip">Cut</button>
    </form>
    <div v-if="!bare && (more || fixed.length || get('design'))" class="wide small">
      <span v-if="fixedOptions.length" class="row wrap"
        >with the same composition of
        <label v-for="each in fixedOptions" :key="each"
          ><input type="checkbox" :checked="fixed.includes(each)" @change="toggle(each)" /> {{ each }}</label
        ></span
      >
      <label v-if="choices?.design_fields.length"
        >weighed by
        <select :value="get('design')" aria-label="Design weights" @change="set({ design: value($event) })">
          <option value="">nothing</option>
          <option v-for="each in choices.design_fields" :key="each">{{ each }}</option>
        </select></label
      >
    </div>
  </div>
</template>

<style scoped>
.bar {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0.3rem 0.9rem;
}
.bar select {
  max-width: 8rem;
}
.wide {
  flex-basis: 100%;
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0.3rem 1rem;
}
</style>
