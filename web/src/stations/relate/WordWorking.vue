<script setup lang="ts">
import { ask, client } from '@/api/client'
import { strandPath, useStrand, useStrandQuery } from '@/api/strand'
import Waiting from '@/frame/Waiting.vue'

import WorkingLines from '@/marks/WorkingLines.vue'

/** How the figures of a word came about, each with its own numbers. */
const props = defineProps<{ group: number; term: string; against?: number }>()
const { ply } = useStrand()
const working = useStrandQuery(
  'working of a word',
  () => [ply('group_words')?.identity, props.group, props.term, props.against],
  (id) =>
    ask(
      client.GET('/api/strands/{strand_id}/relate/group-words/working', {
        params: { ...strandPath(id), query: { group: props.group, term: props.term, against: props.against } },
      }),
    ),
)
</script>

<template>
  <WorkingLines v-if="working.data.value" :lines="working.data.value.lines" />
  <Waiting v-else what="Working it out" />
</template>
