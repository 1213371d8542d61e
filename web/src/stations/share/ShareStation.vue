<script setup lang="ts">
import { computed, ref } from 'vue'

import { ask, client } from '@/api/client'
import { strandPath, useStrand, useStrandQuery } from '@/api/strand'
import StaleNotice from '@/frame/StaleNotice.vue'
import Waiting from '@/frame/Waiting.vue'
import { counted, size } from '@/marks/format'

const { id, ply } = useStrand()
const fit = computed(() => ply('fit')?.identity)
const exports_ = useStrandQuery(
  'exports',
  fit,
  (strand) => ask(client.GET('/api/strands/{strand_id}/exports', { params: strandPath(strand) })),
  () => !!fit.value,
)
const files = computed(() => exports_.data.value ?? [])
const open = ref('pattern.json')
const shown = computed(() => files.value.find((file) => file.name === open.value))
const begins = useStrandQuery(
  'beginning',
  () => [fit.value, open.value],
  (strand) =>
    ask(
      client.GET('/api/strands/{strand_id}/exports/{name}/beginning', {
        params: { path: { strand_id: strand, name: open.value } },
      }),
    ),
  () => !!fit.value,
)
const command = 'skeinwork weave pattern.json --documents FILE --out results'
</script>

<template>
  <div class="station share">
    <h1>Take it with you</h1>
    <p v-if="!fit">There is nothing to share yet. <RouterLink to="choose">Choose a fit</RouterLink> first.</p>
    <template v-else>
      <StaleNotice :steps="['fit']"
        >What is saved here is the fit as it was made, with the settings that made it.</StaleNotice
      >
      <p v-if="exports_.error.value" class="notice bad">{{ exports_.error.value.message }}</p>
      <div class="row wrap">
        <a class="button" :href="`/api/strands/${id}/export.zip`" download>Save everything (zip)</a>
        <a class="button second" :href="`/api/strands/${id}/pattern.json`" download>Save the pattern</a>
      </div>
      <section>
        <h2>Run it again</h2>
        <p>
          The pattern makes the same results from the same documents, byte for byte on this machine, without the server:
        </p>
        <pre>{{ command }}</pre>
      </section>
      <div class="two">
        <section>
          <h2>Files</h2>
          <Waiting v-if="!files.length" what="Listing the files" />
          <button
            v-for="file in files"
            :key="file.name"
            class="plain file"
            :class="{ open: file.name === open }"
            @click="open = file.name">
            <b>{{ file.name }}</b>
            <span class="soft numbers small">{{ file.rows === null ? '' : counted(file.rows, 'row') }}</span>
            <span class="soft small line">{{ file.about }}</span>
          </button>
        </section>
        <section v-if="shown">
          <div class="row spread">
            <h2>
              {{ shown.name }}
              <small v-if="begins.data.value?.size" class="soft numbers">{{ size(begins.data.value.size) }}</small>
            </h2>
            <a :href="`/api/strands/${id}/exports/${encodeURIComponent(shown.name)}`" download>Save this file</a>
          </div>
          <p v-if="begins.error.value" class="notice bad">{{ begins.error.value.message }}</p>
          <Waiting v-else-if="!begins.data.value" what="Writing how it begins" />
          <pre v-else class="beginning" :class="{ waiting: begins.isPlaceholderData.value }" tabindex="0"
            >{{ begins.data.value.text }}{{ begins.data.value.whole ? '' : '…' }}</pre>
        </section>
      </div>
    </template>
  </div>
</template>

<style scoped>
.share {
  display: grid;
  gap: 1.1rem;
  align-content: start;
}
.button {
  background: var(--woad);
  color: var(--on-woad);
  padding: 0.4rem 0.9rem;
  border-radius: 4px;
  text-decoration: none;
}
.second {
  background: var(--raised);
  color: var(--ink);
  border: 1px solid var(--hairline);
}
pre {
  background: var(--raised);
  border: 1px solid var(--hairline);
  padding: 0.6rem 0.9rem;
  margin: 0;
  overflow: auto;
  font-size: 0.86rem;
}
.two {
  grid-template-columns: 21rem minmax(0, 1fr);
}
.file {
  display: grid;
  grid-template-columns: 1fr auto;
  width: 100%;
  padding: 0.35rem 0.5rem;
  border-bottom: 1px solid var(--hairline);
}
.file:hover,
.file.open {
  background: var(--woad-wash);
}
.line {
  grid-column: 1 / -1;
}
.beginning {
  white-space: pre-wrap;
  overflow-wrap: anywhere;
  max-height: 26rem;
}
</style>
