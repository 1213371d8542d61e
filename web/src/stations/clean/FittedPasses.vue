<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'

import { ask, client, type Schemas } from '@/api/client'
import { strandPath, useStrand, useStrandQuery } from '@/api/strand'
import { useLanguageStrands } from '@/frame/languages'

import { usePasses } from './passes'

/** What was counted in this corpus, the passes that it speaks for, and how to take one that was changed. */
const open = defineModel<string>('open', { required: true })
const passes = usePasses()
const { strand, ply } = useStrand()
const query = useStrandQuery(
  'fitted passes',
  () => [ply('corpus')?.identity, strand.value?.wanted.clean],
  (strandId) => ask(client.GET('/api/strands/{strand_id}/fitted-passes', { params: strandPath(strandId) })),
  () => !!ply('corpus')?.identity,
)
const found = computed(() => query.data.value)
const reasons = computed(() => {
  const by = new Map<string, Schemas['FittedPass'][]>()
  for (const each of found.value?.passes ?? []) by.set(each.why, [...(by.get(each.why) ?? []), each])
  return [...by]
})
const split = useLanguageStrands()
</script>

<template>
  <section v-if="reasons.length" class="small" aria-label="What fits this corpus">
    <p v-for="[why, fitted] in reasons" :key="why">
      <template v-for="each in fitted" :key="each.key">
        <button class="plain link" @click="open = each.key">{{ each.title }}</button>
        <template v-if="!each.taken">
          ({{ each.said }}, <button class="plain link" @click="passes.take(each.settings)">take it</button>)</template
        >{{ ' ' }}
      </template>
      <span class="soft">{{ why }}</span>
    </p>
    <p v-if="(found?.languages ?? 0) > 1">
      <button v-if="!split.data.value" class="plain link" :disabled="split.isPending.value" @click="split.mutate()">
        a strand for each language
      </button>
      <template v-else>
        strands:
        <RouterLink v-for="each in split.data.value" :key="each.strand" :to="`/strand/${each.strand}/clean`">
          {{ each.language }}
        </RouterLink>
      </template>
    </p>
  </section>
</template>

<style scoped>
section {
  border-left: 2px solid var(--hairline);
  padding-left: 0.6rem;
  margin-bottom: 0.5rem;
}
p {
  margin: 0.15rem 0;
}
a {
  margin-right: 0.5rem;
}
</style>
