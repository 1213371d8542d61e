<script setup lang="ts">
import { computed } from 'vue'

import WordListEditor from './WordListEditor.vue'
import { typedNumber, type Field } from './settings'

/** One setting, drawn from its schema; `called` where its name says more than its description. */
const props = defineProps<{ field: Field; value: unknown; name?: string; called?: string; choices?: string[] }>()
const emit = defineEmits<{ change: [unknown] }>()
const label = computed(() => props.called ?? props.field.description ?? props.field.title)
const enumerated = computed(() => (props.field.of ? props.choices : props.field.enum))
const chosen = computed(() => (props.value as string[] | undefined) ?? [])
const with_ = (choice: string, on: boolean) =>
  on ? [...chosen.value, choice] : chosen.value.filter((each) => each !== choice)
const checked = (event: Event) => (event.target as HTMLInputElement).checked
const text = (event: Event) => (event.target as HTMLInputElement | HTMLSelectElement).value
const number = (event: Event) => {
  const given = typedNumber(props.field, text(event))
  if (given !== undefined) emit('change', given)
}
</script>

<template>
  <WordListEditor
    v-if="field.words"
    :label="label"
    :words="(value as string[]) ?? []"
    :lines="field.lines"
    :sample="field.line"
    @change="emit('change', $event)" />
  <fieldset v-else-if="field.several">
    <legend>{{ label }}</legend>
    <label v-for="(title, choice) in field.several" :key="choice"
      ><input
        type="checkbox"
        :checked="chosen.includes(String(choice))"
        @change="emit('change', with_(String(choice), checked($event)))" />
      {{ title }}</label
    >
  </fieldset>
  <label v-else-if="field.type === 'boolean'"
    ><input type="checkbox" :checked="!!value" @change="emit('change', checked($event))" /> {{ label }}</label
  >
  <label v-else-if="enumerated"
    >{{ label }}
    <select :value="value ?? ''" @change="emit('change', text($event) || (field.open ? null : ''))">
      <option v-if="field.open" value="">{{ field.left_open }}</option>
      <option v-for="choice in enumerated" :key="choice">{{ choice }}</option>
    </select></label
  >
  <label v-else :title="called && field.description"
    >{{ label }}
    <input
      :type="field.type === 'string' ? 'text' : 'number'"
      :min="field.minimum"
      :max="field.maximum"
      :step="field.step ?? (field.type === 'number' ? 'any' : 1)"
      :value="value"
      :placeholder="field.left_open"
      :required="!field.open"
      :aria-label="name"
      @change="field.type === 'string' ? emit('change', text($event)) : number($event)"
  /></label>
</template>

<style scoped>
fieldset {
  border: 0;
  margin: 0;
  padding: 0;
  columns: 2;
}
legend {
  padding: 0;
}
input[type='number'] {
  width: 6.2rem;
}
</style>
