<script setup lang="ts">
import WordForms from './WordForms.vue'
import { useForms } from './forms'
import { useSentence } from './sentence'

/** The ways to bring words together, on the beginning of a document and on the vocabulary. */
const sentence = useSentence()
const found = useForms()
</script>

<template>
  <WordForms :found="found" :sentence="sentence" />
</template>
