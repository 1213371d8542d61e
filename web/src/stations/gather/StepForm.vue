<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref, watch } from 'vue'

import type { Schemas } from '@/api/client'
import SettingField from '@/frame/SettingField.vue'
import { isAsked, type Field } from '@/frame/settings'
import { count } from '@/marks/format'

import { suggestedField, useShape, type Operation } from '@/frame/shape'

/** An operation to be added, drawn from its schema. */
const props = defineProps<{ kind: Schemas['OperationKind']; fields: Schemas['FieldSummary'][] }>()
const { add, attempt } = useShape()
const settings = computed(() => Object.entries(props.kind.fields as Record<string, Field>))
const names = computed(() => props.fields.map((field) => field.name))
const given = ref<Record<string, unknown>>({})
const values = computed(() => ({
  ...Object.fromEntries(
    settings.value.map(([name, field]) => [
      name,
      field.of ? suggestedField(props.fields) : (field.suggested ?? field.default),
    ]),
  ),
  ...given.value,
}))
const shown = computed(() => settings.value.filter(([, field]) => isAsked(field, values.value)))
const operation = computed(() => ({ kind: props.kind.kind, ...values.value }) as unknown as Operation)
const outcome = ref('')
const refused = ref(false)

watch(operation, () => (outcome.value = ''))
async function tryOut() {
  outcome.value = 'looking…'
  refused.value = false
  try {
    const step = await attempt(operation.value)
    outcome.value = `${count(step.after ?? 0)} of ${count(step.before ?? 0)} documents would be left`
  } catch (problem) {
    outcome.value = (problem as Error).message
    refused.value = true
  }
}
function doIt() {
  outcome.value = ''
  add(operation.value)
}
</script>

<template>
  <form class="form" @submit.prevent="doIt">
    <h3>{{ kind.title }}</h3>
    <div class="row wrap small">
      <SettingField
        v-for="[name, field] in shown"
        :key="name"
        :name="name"
        :field="field"
        :choices="names"
        :value="values[name]"
        @change="given = { ...given, [name]: $event }" />
    </div>
    <div class="row wrap">
      <Button :label="kind.action" size="small" severity="secondary" type="submit" />
      <button type="button" class="plain link small" @click="tryOut">try first</button>
      <span class="numbers small" :class="{ loss: refused }" role="status">{{ outcome }}</span>
    </div>
  </form>
</template>
