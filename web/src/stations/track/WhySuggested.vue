<script setup lang="ts">
import { useBreakdown } from './breakdown'

/** Why prevalence is broken down as it is, and what is taken as sampled, until something else is chosen. */
const { asSuggested, choices, suggestedUnit, get } = useBreakdown()
</script>

<template>
  <template v-if="asSuggested">Suggested: {{ choices?.suggestion }}. </template>
  <template v-if="!get('unit')"
    >Taken as sampled:
    {{
      suggestedUnit
        ? `${suggestedUnit.unit}, since ${suggestedUnit.why}`
        : 'single documents, since those of no other field are clearly alike'
    }}.
  </template>
</template>
