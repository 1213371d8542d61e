<script setup lang="ts">
import Button from 'primevue/button'
import { computed } from 'vue'

import { useHanding } from './handing'

/** Two words as one: the second counts as the first, or both in a row are one term. */
const props = defineProps<{ terms: string[]; words: string[]; row?: boolean }>()
const { takeAsOne, takeAsTerm } = useHanding()
const term = computed(() => props.words.join(' '))
</script>

<template>
  <span class="row wrap">
    <Button
      v-if="!row"
      size="small"
      severity="secondary"
      :label="`Take ${words[1]} as ${words[0]}`"
      title="At Clean, where words have their forms"
      @click="takeAsOne(terms, `“${words[1]}” as “${words[0]}”`)" />
    <Button v-else size="small" severity="secondary" :label="`“${term}” as one term`" @click="takeAsTerm(term)" />
  </span>
</template>
