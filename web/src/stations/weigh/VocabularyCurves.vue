<script setup lang="ts">
import { computed, ref } from 'vue'

import { ask, client } from '@/api/client'
import { strandPath, useStrand, useStrandQuery } from '@/api/strand'
import { useSeen } from '@/frame/seen'
import Waiting from '@/frame/Waiting.vue'

import CurveChart from './CurveChart.vue'

/** How the vocabulary is spread, and what that says about it. */
const { strand, ply } = useStrand()
const panel = ref<HTMLElement>()
const seen = useSeen(panel)
const query = useStrandQuery(
  'curves',
  () => strand.value?.wanted.clean,
  (id) => ask(client.GET('/api/strands/{strand_id}/vocabulary/curves', { params: strandPath(id) })),
  () => seen.value && !!ply('cleaning')?.identity,
)
const found = computed(() => query.data.value)
const CHARTS = [
  ['ranks', 'Ranks (Zipf)', 'rank', 'count', true, false],
  ['growth', 'Growth (Heaps)', 'words read', 'distinct words', false, false],
  ['spectrum', 'Spectrum', 'count', 'words with it', true, true],
] as const
</script>

<template>
  <section ref="panel" aria-label="How the vocabulary is spread">
    <Waiting v-if="!found" what="Counting words by their frequency" />
    <div v-else class="curves">
      <CurveChart
        v-for="[key, title, across, up, logs, dots] in CHARTS"
        :key="key"
        :title="title"
        :points="found[key].points as [number, number][]"
        :says="found[key].says"
        :across="across"
        :up="up"
        :logs="logs"
        :dots="dots" />
    </div>
  </section>
</template>

<style scoped>
section {
  min-height: 4rem;
}
.curves {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(15.5rem, 1fr));
  gap: 1.4rem;
}
</style>
