<script setup lang="ts">
import { computed } from 'vue'

import { useStrand } from '@/api/strand'
import { useAddress } from '@/frame/address'

import MapOf from './MapOf.vue'
import { MAP_STEPS, type MapOf as Kind } from './maps'

/** Documents or words in the plane: which of the maps there can be. */
const { get, set } = useAddress()
const { ply } = useStrand()
const kinds = Object.keys(MAP_STEPS) as Kind[]
const of = computed<Kind>(() => {
  const asked = get('map') as Kind
  return kinds.includes(asked) ? asked : (kinds.find((each) => ply(MAP_STEPS[each].step)?.identity) ?? 'documents')
})
</script>

<template>
  <div class="room">
    <div class="row wrap small" role="group" aria-label="What is on the map">
      <button
        v-for="each in kinds"
        :key="each"
        class="plain kind"
        :aria-pressed="of === each"
        @click="set({ map: each, ev: '', only: '', by: '' })">
        {{ MAP_STEPS[each].title }}
      </button>
    </div>
    <MapOf :key="of" :of="of" />
  </div>
</template>

<style scoped>
.kind {
  border-bottom: 2px solid transparent;
  min-height: 24px;
}
.kind:hover,
.kind[aria-pressed='true'] {
  color: var(--woad);
  border-color: var(--woad);
}
</style>
