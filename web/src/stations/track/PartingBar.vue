<script setup lang="ts">
import BreakdownBar from './BreakdownBar.vue'
import { useParting } from './parting'

/** By what documents are parted, and how each part is fitted; `topics` and `smallest` are what stands where nothing is asked. */
defineProps<{ topics?: number; smallest?: number; timed?: boolean; settled?: boolean }>()
const { group, seeds, number, set } = useParting()
const value = (event: Event) => (event.target as HTMLInputElement).value
</script>

<template>
  <BreakdownBar bare :timeless="!timed && !!group" :groupless="timed">
    <slot />
    <template v-if="!settled">
      <label class="small"
        >topics
        <input
          type="number"
          min="2"
          max="500"
          :value="number('k') ?? topics"
          aria-label="Topics of each model"
          @change="set({ k: value($event) })" /></label
      ><label class="small"
        >fits of each
        <input
          type="number"
          min="1"
          max="10"
          :value="seeds"
          aria-label="Fits of each part"
          @change="set({ seeds: value($event) })"
      /></label>
    </template>
    <label class="small"
      >smallest part
      <input
        type="number"
        min="2"
        :value="number('least') ?? smallest"
        aria-label="Documents of the smallest part"
        @change="set({ least: value($event) })"
    /></label>
  </BreakdownBar>
</template>

<style scoped>
input {
  width: 4.2rem;
}
</style>
