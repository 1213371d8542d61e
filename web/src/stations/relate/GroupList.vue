<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '@/api/client'
import Swatch from '@/marks/Swatch.vue'
import { colour } from '@/marks/dyes'
import { count, counted, decimal } from '@/marks/format'

/** All groups, the largest first: what each is called, how large, how tight. */
const props = defineProps<{ found: Schemas['GroupsScreen']; chosen: number }>()
defineEmits<{ pick: [number] }>()
const largest = computed(() => Math.max(...props.found.groups.map((each) => each.size)))
</script>

<template>
  <section>
    <h2>Groups, the largest first</h2>
    <div class="list">
      <button
        v-for="group in found.groups"
        :key="group.group"
        class="plain group"
        :class="{ selected: group.group === chosen }"
        :aria-pressed="group.group === chosen"
        :title="`${counted(group.size, 'document')}; mean ${found.measure} from the middle ${decimal(group.mean_apart)}; ${counted(group.border, 'document')} at a border`"
        @click="$emit('pick', group.group)">
        <Swatch :dye="group.group" />
        <span class="book cut grow">{{ group.name }}</span>
        <span class="bar" aria-hidden="true"
          ><span :style="{ width: `${(100 * group.size) / largest}%`, background: colour(group.group) }"
        /></span>
        <span class="numbers small size">{{ count(group.size) }}</span>
        <span class="numbers small soft apart">{{ decimal(group.mean_apart) }}</span>
      </button>
    </div>
  </section>
</template>

<style scoped>
.list {
  max-height: 28rem;
  overflow: auto;
}
.group {
  display: flex;
  gap: 0.6rem;
  align-items: center;
  width: 100%;
  padding: 0.22rem 0.2rem;
  border-bottom: 1px solid var(--hairline);
}
.group:hover,
.selected {
  background: var(--woad-wash);
}
.bar {
  flex: 0 0 5.5rem;
}
.bar span {
  display: block;
  height: 5px;
  border-radius: 3px;
}
.size,
.apart {
  flex: 0 0 2.6rem;
  text-align: right;
}
</style>
