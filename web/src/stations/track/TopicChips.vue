<script setup lang="ts">
import { computed } from 'vue'

import { useTopics } from '@/api/topics'
import Swatch from '@/marks/Swatch.vue'

import { useChosenTopics } from './chosen'

/** The topics that the charts of a room show. */
const { topics, label, dye } = useTopics()
const { chosen, toggle, all } = useChosenTopics()
const others = computed(() => topics.value.filter((each) => !chosen.value.includes(each.topic)))
const value = (event: Event) => (event.target as HTMLSelectElement).value
</script>

<template>
  <span class="row wrap">
    <button
      v-for="topic in chosen"
      :key="topic"
      class="plain chip"
      :title="`Take ${label(topic)} off the charts`"
      @click="toggle(topic)">
      <Swatch :dye="dye(topic)" /> <span class="cut">{{ label(topic) }}</span> ×
    </button>
    <select
      v-if="others.length"
      value=""
      aria-label="Add a topic"
      @change="value($event) === 'all' ? all() : toggle(Number(value($event)))">
      <option value="" disabled>+ topic</option>
      <option v-for="topic in others" :key="topic.topic" :value="topic.topic">{{ label(topic.topic) }}</option>
      <option value="all">all topics</option>
    </select>
  </span>
</template>

<style scoped>
.chip .cut {
  max-width: 14rem;
}
select {
  max-width: 6.5rem;
}
</style>
