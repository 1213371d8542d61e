<script setup lang="ts">
import { computed } from 'vue'

import { text, type Choices, type Weighting } from './beside'

/** By which weights: one of the usual ones. */
const props = defineProps<{ choices: Choices; value: Weighting }>()
const emit = defineEmits<{ change: [Weighting] }>()
const same = (one: Weighting, other: Weighting) => JSON.stringify(one) === JSON.stringify(other)
const name = computed(() => props.choices.weightings.find((each) => same(each.weighting, props.value))?.name ?? '')
function choose(wanted: string) {
  const found = props.choices.weightings.find((each) => each.name === wanted)
  if (found) emit('change', found.weighting)
}
</script>

<template>
  <label
    >weights
    <select :value="name" aria-label="Weights" @change="choose(text($event))">
      <option v-if="!name" value="">own</option>
      <option v-for="each in choices.weightings" :key="each.name">{{ each.name }}</option>
    </select></label
  >
</template>
