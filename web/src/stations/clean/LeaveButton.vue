<script setup lang="ts">
import { useLeaveOut } from '@/frame/leaving'

/** Leaves a word out, or says that it is leaving. */
defineProps<{ word: string; gone: boolean }>()
const { leaveOut } = useLeaveOut()
</script>

<template>
  <button v-if="!gone" class="plain link small" @click="leaveOut(word)">leave out</button>
  <span v-else class="soft small">leaving</span>
</template>
