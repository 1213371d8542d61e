<script setup lang="ts">
import { computed } from 'vue'

import type { Settings } from '@/frame/uploads'

const props = defineProps<{ settings: Settings }>()
const emit = defineEmits<{ change: [NonNullable<Settings['cut']>] }>()
type Cut = NonNullable<Settings['cut']>
const cut = computed(() => props.settings.cut as Cut)
const WAYS: [Cut['by'], string][] = [
  ['nothing', 'stays one document'],
  ['paragraph', 'is cut at blank lines'],
  ['sentence', 'is cut into sentences'],
  ['heading', 'is cut at headings'],
  ['page', 'is cut at pages'],
  ['length', 'is cut by length'],
  ['expression', 'is cut where an expression matches'],
]
const value = (event: Event) => (event.target as HTMLInputElement).value
const set = (part: Partial<Cut>) => emit('change', { ...cut.value, ...part })
</script>

<template>
  <div class="row wrap small">
    <label class="row">
      each text
      <select
        :value="cut.by"
        @change="
          set({ by: value($event) as Cut['by'], expression: value($event) === 'expression' ? '^(?P<who>\\w+): ' : '' })
        ">
        <option v-for="[way, label] in WAYS" :key="way" :value="way">{{ label }}</option>
      </select>
    </label>
    <label v-if="cut.by === 'length'" class="row">
      words each
      <input
        type="number"
        min="10"
        max="100000"
        :value="cut.words"
        class="number"
        @change="set({ words: Math.max(10, Number(value($event)) || 300) })" />
    </label>
    <label v-if="cut.by === 'sentence'" class="row">
      sentences each
      <input
        type="number"
        min="1"
        max="1000"
        :value="cut.sentences"
        class="number"
        @change="set({ sentences: Math.max(1, Math.round(Number(value($event))) || 1) })" />
    </label>
    <template v-if="cut.by === 'expression'">
      <input
        class="typed expression"
        aria-label="A document begins where this matches"
        :value="cut.expression"
        @change="set({ expression: value($event) })" />
      <span class="soft">a named group, such as (?P&lt;who&gt;…), becomes a field</span>
    </template>
  </div>
</template>

<style scoped>
.expression {
  width: 14rem;
  font-family: monospace;
}
</style>
