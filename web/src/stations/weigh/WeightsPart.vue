<script setup lang="ts">
import { computed } from 'vue'

import { useAddress } from '@/frame/address'
import Waiting from '@/frame/Waiting.vue'

import CellFormula from './CellFormula.vue'
import { useCell } from './cells'
import SchemeRanks from './SchemeRanks.vue'
import ScopeChooser from './ScopeChooser.vue'
import { useTopTerms } from './top'
import WeightChooser from './WeightChooser.vue'
import { alike, useWeighting, type Weighting } from './weighting'

/** How counts become weights: what is chosen, one cell worked out, and what another choice would change. */
const { get, set } = useAddress()
const { weighting, choices } = useWeighting()
const SHOWN = 20
const names = computed(() => choices.value?.schemes.map((each) => each.name) ?? [])
const besides = computed(
  () =>
    get('beside') ||
    choices.value?.schemes.find(
      (each) => !alike(each.weighting as Weighting, weighting.value) && each.name === 'tf-idf',
    )?.name ||
    'counts',
)
const other = computed(() => {
  const found = choices.value?.schemes.find((each) => each.name === besides.value)?.weighting
  return found ? { local_weight: found.local_weight, global_weight: found.global_weight, norm: found.norm } : {}
})
const ranks = useTopTerms(SHOWN, other)
const { cell } = useCell()
</script>

<template>
  <div class="weights">
    <WeightChooser />
    <section>
      <h2>One cell worked out</h2>
      <p class="soft small">
        {{
          get('cell') ? 'As it was chosen in the matrix.' : 'The one with the largest count; choose another in Matrix.'
        }}
      </p>
      <CellFormula v-if="cell" :document="cell.document" :term="cell.term" />
      <Waiting v-else what="Looking for a cell" />
    </section>
    <section>
      <div class="row wrap small">
        <label
          >beside
          <select
            :value="besides"
            aria-label="Weighting beside"
            @change="set({ beside: ($event.target as HTMLSelectElement).value })">
            <option v-for="name in names" :key="name">{{ name }}</option>
          </select></label
        >
        <ScopeChooser />
      </div>
      <SchemeRanks v-if="ranks.data.value?.other" :found="ranks.data.value" :shown="SHOWN" />
      <p v-if="ranks.error.value" class="notice bad">{{ ranks.error.value.message }}</p>
    </section>
  </div>
</template>

<style scoped>
.weights {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 1.4rem;
}
.weights p {
  margin: 0.2rem 0 0.4rem;
}
</style>
