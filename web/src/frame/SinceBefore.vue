<script setup lang="ts">
import { useSinceBefore } from '@/api/topics'
import { useStrandId } from '@/api/strand'

/** What became of the topics since the fit before, in a line that leads to the comparison. */
const { before, found } = useSinceBefore()
const id = useStrandId()
</script>

<template>
  <p v-if="before && found" class="soft small since">
    Since {{ before.said.name }}, {{ before.said.size }}: {{ found.sentence }} Labels follow topics whose own words are
    alike by {{ found.alike }} or more, and wait to be confirmed.
    <RouterLink :to="{ path: `/strand/${id}/fit`, query: { part: 'compare', other: before.identity } }"
      >See what changed</RouterLink
    >
  </p>
</template>

<style scoped>
.since {
  margin: 0;
}
</style>
