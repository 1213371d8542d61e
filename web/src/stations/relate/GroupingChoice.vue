<script setup lang="ts">
import { isOn, text, type Choices, type Weighting } from './beside'
import type { Schemas } from '@/api/client'
import WeightingChoice from './WeightingChoice.vue'

/** How documents are grouped, whatever the number of groups. */
type Grouping = Pick<Schemas['GroupsSettings'], 'method' | 'weighting' | 'spherical' | 'distance' | 'starts'>
defineProps<{ choices: Choices; value: Grouping }>()
const emit = defineEmits<{ change: [Partial<Grouping>] }>()
</script>

<template>
  <label
    >method
    <select
      :value="value.method"
      aria-label="Method"
      @change="emit('change', { method: text($event) as Grouping['method'] })">
      <option>k-means</option>
      <option>k-medoids</option>
    </select></label
  >
  <WeightingChoice
    :choices="choices"
    :value="value.weighting as Weighting"
    @change="emit('change', { weighting: $event })" />
  <label v-if="value.method === 'k-means'" title="Rows and centres have the length 1">
    by angle alone
    <input type="checkbox" :checked="value.spherical" @change="emit('change', { spherical: isOn($event) })"
  /></label>
  <label v-else
    >distance
    <select
      :value="value.distance"
      aria-label="Distance"
      @change="emit('change', { distance: text($event) as Grouping['distance'] })">
      <option
        v-for="each in choices.distances.filter((one) => one.name !== 'scaled')"
        :key="each.name"
        :value="each.name">
        {{ each.title }}
      </option>
    </select></label
  >
  <label v-if="value.method === 'k-means'"
    >starts
    <input
      type="number"
      min="1"
      max="100"
      :value="value.starts"
      aria-label="Starts"
      @change="emit('change', { starts: Number(text($event)) })"
  /></label>
</template>
