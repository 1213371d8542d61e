<script setup lang="ts">
import { useStrandId } from '@/api/strand'
import JobNotice from '@/frame/JobNotice.vue'
import { useJob } from '@/frame/jobs'

import { useChoice } from './choose'

/** The choice that was made, while it goes on with all documents and afterwards. */
const id = useStrandId()
const query = useChoice()
const { told } = useJob('chosen')
</script>

<template>
  <JobNotice v-if="told" :job="told" kept="The choice is kept." />
  <p v-if="query.data.value?.choice?.there" class="made">
    <b>Chosen: {{ query.data.value.choice.topics }} topics, seed {{ query.data.value.choice.seed }}.</b>
    <template v-if="query.data.value.choice.reason"> “{{ query.data.value.choice.reason }}”</template>
    <template v-if="query.data.value.choice.changed">
      Continued with all documents: {{ query.data.value.choice.changed }}
      <RouterLink :to="{ path: `/strand/${id}/fit`, query: { part: 'compare', other: query.data.value.choice.fit } }"
        >See what changed</RouterLink
      >
    </template>
    <RouterLink :to="`/strand/${id}/label`" class="on">Label its topics</RouterLink>
  </p>
</template>

<style scoped>
.made {
  margin: 0;
  padding: 0.5rem 0.8rem;
  background: var(--lichen-wash);
}
.on {
  margin-left: 0.5rem;
}
</style>
