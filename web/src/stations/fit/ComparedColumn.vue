<script setup lang="ts">
import type { Schemas } from '@/api/client'
import Swatch from '@/marks/Swatch.vue'
import { percent } from '@/marks/format'

import { BECAME } from './compare'

/** The topics of one of two fits, each of a row's height, with what became of it. */
defineProps<{ title: string; topics: Schemas['ComparedTopic'][]; row: number; chosen?: number }>()
defineEmits<{ pick: [number] }>()
</script>

<template>
  <section class="column" :aria-label="title">
    <h3 class="cut">{{ title }}</h3>
    <button
      v-for="each in topics"
      :key="each.topic"
      class="plain topic"
      :class="{ tight: row < 26, chosen: each.topic === chosen }"
      :style="{ height: `${row}px` }"
      :title="`${each.title}: ${each.words.join(' ')}`"
      @click="$emit('pick', each.topic)">
      <Swatch :dye="each.dye" :size="row < 26 ? 13 : 16" />
      <span class="cut grow" :class="{ book: !each.label }">{{ each.title }}</span>
      <em v-if="BECAME[each.became]" class="became small" :class="each.became">{{ BECAME[each.became] }}</em>
      <span class="numbers small soft">{{ percent(each.share) }}</span>
    </button>
  </section>
</template>

<style scoped>
.column {
  min-width: 0;
}
h3 {
  margin: 0;
  height: 26px;
}
.topic {
  display: flex;
  gap: 0.5rem;
  align-items: center;
  width: 100%;
  min-height: 0;
  padding: 0 0.2rem;
}
.tight {
  font-size: 0.82rem;
}
.topic:hover,
.chosen {
  background: var(--woad-wash);
}
.became {
  color: var(--woad);
}
.gone,
.new {
  color: var(--madder);
}
</style>
