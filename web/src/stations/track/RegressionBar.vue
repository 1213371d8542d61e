<script setup lang="ts">
import { computed } from 'vue'

import { TIME, pairsOf, useTerms } from './regression'

/** The fields that are held fixed for each other, which of them may depend on each other, and by what method. */
const { choices, all, terms, pairs, unit, of, toggle, togglePair, get, set } = useTerms()
const open = computed(() => pairsOf(terms.value).filter((each) => !pairs.value.includes(each)))
const units = computed(() =>
  ['documents', ...(choices.value?.unit_fields ?? [])].filter((each) => !terms.value.includes(each)),
)
const value = (event: Event) => (event.target as HTMLSelectElement).value
</script>

<template>
  <div class="bar small" role="group" aria-label="Regressed on">
    <span class="row wrap">
      <label v-for="each in all" :key="each"
        ><input type="checkbox" :checked="terms.includes(each)" @change="toggle(each)" /> {{ each }}</label
      >
    </span>
    <span class="row wrap">
      <button
        v-for="each in pairs"
        :key="each"
        class="plain chip"
        :title="`Take ${each} out: their effects add up again`"
        @click="togglePair(each)">
        {{ each }} ×
      </button>
      <select
        v-if="open.length && pairs.length < 3"
        value=""
        aria-label="Add a pair"
        @change="togglePair(value($event))">
        <option value="" disabled>+ one depends on the other</option>
        <option v-for="each in open" :key="each">{{ each }}</option>
      </select>
    </span>
    <label
      >by
      <select :value="of?.link ?? 'identity'" aria-label="Method" @change="set({ link: value($event) })">
        <option value="identity">least squares</option>
        <option value="logit">fractional logit</option>
      </select></label
    >
    <label v-if="terms.includes(TIME)"
      >curve of
      <select :value="String(of?.bends ?? 3)" aria-label="Columns of the curve" @change="set({ bends: value($event) })">
        <option v-for="each in [1, 2, 3, 4, 5, 6]" :key="each" :value="String(each)">
          {{ each === 1 ? 'a line' : `${each} pieces` }}
        </option>
      </select></label
    >
    <label
      >of
      <select :value="get('weight', 'tokens')" aria-label="Weight" @change="set({ weight: value($event) })">
        <option>tokens</option>
        <option>documents</option>
      </select></label
    >
    <label
      >sampled
      <select :value="unit" aria-label="Sampled unit" @change="set({ unit: value($event) })">
        <option v-for="each in units" :key="each">{{ each }}</option>
      </select></label
    >
    <label v-if="choices?.design_fields.length"
      >weighed by
      <select :value="get('design')" aria-label="Design weights" @change="set({ design: value($event) })">
        <option value="">nothing</option>
        <option v-for="each in choices.design_fields" :key="each">{{ each }}</option>
      </select></label
    >
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
  max-width: 11rem;
}
</style>
