<script setup lang="ts">
import PartsOfSpeech from './PartsOfSpeech.vue'
import { useSentence } from './sentence'

/** Parts of speech, on the beginning of a document. */
const sentence = useSentence()
</script>

<template>
  <PartsOfSpeech :sentence="sentence.text" />
</template>
