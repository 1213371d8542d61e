<script setup lang="ts">
import WordListEditor from './WordListEditor.vue'
import { typedNumber, type Field } from './settings'

/** One setting, drawn from its schema. */
const props = defineProps<{ field: Field; value: unknown; name?: string }>()
const emit = defineEmits<{ change: [unknown] }>()
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
    :label="field.description ?? field.title"
    :words="(value as string[]) ?? []"
    @change="emit('change', $event)" />
  <label v-else-if="field.type === 'boolean'"
    ><input type="checkbox" :checked="!!value" @change="emit('change', checked($event))" />
    {{ field.description ?? field.title }}</label
  >
  <label v-else-if="field.enum"
    >{{ field.description ?? field.title }}
    <select :value="value" @change="emit('change', text($event))">
      <option v-for="choice in field.enum" :key="choice">{{ choice }}</option>
    </select></label
  >
  <label v-else
    >{{ field.description ?? field.title }}
    <input
      :type="field.type === 'string' ? 'text' : 'number'"
      :min="field.minimum"
      :max="field.maximum"
      :step="field.type === 'number' ? 'any' : 1"
      :value="value"
      :placeholder="field.left_open"
      :required="!field.open"
      :aria-label="name"
      @change="field.type === 'string' ? emit('change', text($event)) : number($event)"
  /></label>
</template>

<style scoped>
input[type='number'] {
  width: 6.2rem;
}
</style>
