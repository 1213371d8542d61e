<script setup lang="ts">
import Button from 'primevue/button'

import { ask, client } from '@/api/client'
import { strandPath, useStrand, useStrandQuery } from '@/api/strand'
import Waiting from '@/frame/Waiting.vue'

import WorkingLines from '@/marks/WorkingLines.vue'

/** How the measures of one number of groups came about, and the way to group so. */
const props = defineProps<{ groups: number }>()
defineEmits<{ take: [] }>()
const { ply } = useStrand()
const working = useStrandQuery(
  'working of a count',
  () => [ply('group_counts')?.identity, props.groups],
  (id) =>
    ask(
      client.GET('/api/strands/{strand_id}/relate/group-counts/working', {
        params: { ...strandPath(id), query: { groups: props.groups } },
      }),
    ),
)
</script>

<template>
  <section class="card" aria-label="Worked out">
    <template v-if="working.data.value">
      <header>
        <h3>{{ working.data.value.name }}</h3>
        <Button size="small" label="Group the documents so" @click="$emit('take')" />
      </header>
      <WorkingLines :lines="working.data.value.lines" />
    </template>
    <p v-else-if="working.error.value" class="notice bad">{{ working.error.value.message }}</p>
    <Waiting v-else what="Working it out" />
  </section>
</template>

<style scoped>
header {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
}
</style>
