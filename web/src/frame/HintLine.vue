<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'

import { useStrand } from '@/api/strand'

/** What to look at here, said once a station. */
const STORED = 'skeinwork-hints'
const route = useRoute()
const { strand } = useStrand()
const seen = ref<string[]>(JSON.parse(localStorage.getItem(STORED) ?? '[]'))
const station = computed(() => String(route.name ?? ''))
const hint = computed(() => (seen.value.includes(station.value) ? undefined : strand.value?.hints[station.value]))
function close() {
  seen.value = [...seen.value, station.value]
  localStorage.setItem(STORED, JSON.stringify(seen.value))
}
</script>

<template>
  <p v-if="hint" class="hint row">
    <span class="grow">{{ hint }}</span>
    <button class="plain" @click="close">got it</button>
  </p>
</template>

<style scoped>
.hint {
  margin: 0;
  padding: 0.35rem 1.2rem;
  border-bottom: 1px solid var(--hairline);
  border-left: 3px solid var(--lichen);
  background: var(--lichen-wash);
}
</style>
