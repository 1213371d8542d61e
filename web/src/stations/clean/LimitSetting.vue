<script setup lang="ts">
import { computed } from 'vue'

import { usePasses, type Pass } from './passes'

/** The documents that a pass is limited to: some languages, or some values of a group. */
const props = defineProps<{ pass: Pass }>()
const emit = defineEmits<{ change: [{ within: { field: string; values: string[] } | null }] }>()
const { limits } = usePasses()
type Limit = { field: string; values: string[] }
const within = computed(() => (props.pass as { within?: Limit | null }).within ?? null)
const values = computed(() => limits.value.find((each) => each.field === within.value?.field)?.values ?? [])
function choose(event: Event) {
  const name = (event.target as HTMLSelectElement).value
  const first = limits.value.find((each) => each.field === name)?.values[0]
  emit('change', { within: name === 'all' || !first ? null : { field: name, values: [first] } })
}
function toggle(value: string, on: boolean) {
  if (!within.value) return
  const chosen = on ? [...within.value.values, value] : within.value.values.filter((each) => each !== value)
  if (chosen.length) emit('change', { within: { ...within.value, values: chosen } })
}
</script>

<template>
  <label v-if="limits.length"
    >documents
    <select :value="within ? within.field : 'all'" aria-label="Documents the pass is limited to" @change="choose">
      <option value="all">all</option>
      <option v-for="limit in limits" :key="limit.field" :value="limit.field">
        by {{ limit.field || 'language' }}
      </option>
    </select></label
  >
  <span v-if="within" class="values">
    <label v-for="value in values" :key="value" class="row"
      ><input
        type="checkbox"
        :checked="within.values.includes(value)"
        @change="toggle(value, ($event.target as HTMLInputElement).checked)" />
      {{ value }}</label
    >
  </span>
</template>

<style scoped>
.values {
  max-height: 9rem;
  overflow: auto;
  display: grid;
}
</style>
