<script setup lang="ts">
import Button from 'primevue/button'

import { useWanted } from '@/api/strand'
import { say } from '@/frame/notices'

import { asOneWord, asTerm } from './hand'

/** Two words as one: the second counts as the first, or both in a row are one term. */
const props = defineProps<{ terms: string[]; words: string[]; row?: boolean }>()
const { wanted, change } = useWanted()
async function one() {
  const passes = asOneWord(wanted.value!.clean!.passes!, props.terms)
  if (await change({ clean: { ...wanted.value!.clean, passes } }))
    say(`Clean now takes “${props.words[1]}” as “${props.words[0]}”. Rebuild (r) to see it.`)
}
async function join() {
  const term = props.words.join(' ')
  const passes = asTerm(wanted.value!.clean!.passes!, term)
  if (await change({ clean: { ...wanted.value!.clean, passes } }))
    say(`Clean now takes “${term}” as one term. Rebuild (r) to see it.`)
}
</script>

<template>
  <span class="row wrap">
    <Button
      v-if="!row"
      size="small"
      severity="secondary"
      :label="`Take ${words[1]} as ${words[0]}`"
      title="At Clean, where words have their forms"
      @click="one" />
    <Button v-else size="small" severity="secondary" :label="`“${words.join(' ')}” as one term`" @click="join" />
  </span>
</template>
