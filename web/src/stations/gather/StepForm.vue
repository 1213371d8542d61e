<script setup lang="ts">
import Button from 'primevue/button'
import { ref, watch } from 'vue'

import { count } from '@/marks/format'

import { useShape, type Operation } from './shape'

const props = defineProps<{ title: string; action: string; operation: Operation }>()
const { add, attempt } = useShape()
const outcome = ref('')
const refused = ref(false)

watch(
  () => props.operation,
  () => (outcome.value = ''),
)
async function tryOut() {
  outcome.value = 'looking…'
  refused.value = false
  try {
    const step = await attempt(props.operation)
    outcome.value = `${count(step.after ?? 0)} of ${count(step.before ?? 0)} documents would be left`
  } catch (problem) {
    outcome.value = (problem as Error).message
    refused.value = true
  }
}
function doIt() {
  outcome.value = ''
  add(props.operation)
}
</script>

<template>
  <form @submit.prevent="doIt">
    <h3>{{ title }}</h3>
    <div class="row wrap small"><slot /></div>
    <div class="row wrap">
      <Button :label="action" size="small" severity="secondary" type="submit" />
      <button type="button" class="plain link small" @click="tryOut">try first</button>
      <span class="numbers small" :class="{ loss: refused }" role="status">{{ outcome }}</span>
    </div>
  </form>
</template>

<style scoped>
form {
  border-top: 1px solid var(--hairline);
  padding-top: 0.6rem;
  display: grid;
  gap: 0.4rem;
  justify-items: start;
}
</style>
