<script setup lang="ts">
/** A number that is set once it is typed, with words before and behind it; what is no number is 0. */
defineProps<{
  name: string
  value?: number | null | ''
  min?: number
  max?: number
  step?: number | 'any'
  empty?: string
  before?: string
}>()
const emit = defineEmits<{ put: [number] }>()
const put = (event: Event) => emit('put', Number((event.target as HTMLInputElement).value) || 0)
</script>

<template>
  <label
    >{{ before }}
    <input
      type="number"
      :min="min ?? 1"
      :max="max"
      :step="step"
      :placeholder="empty"
      :value="value"
      :aria-label="name"
      @change="put" />
    <slot />
  </label>
</template>

<style scoped>
input {
  width: 4.6rem;
  margin-right: 0.3rem;
  appearance: textfield;
}
input::-webkit-inner-spin-button {
  appearance: none;
}
</style>
