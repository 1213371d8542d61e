<script setup lang="ts">
import Button from 'primevue/button'
import { computed } from 'vue'

import { ask, client } from '@/api/client'
import { strandPath, useStrandId, useStrandQuery } from '@/api/strand'
import { useAddress } from '@/frame/address'
import { useEvidence } from '@/frame/evidence'
import { count, counted } from '@/marks/format'

import { useDocumentQuery } from './query'

const id = useStrandId()
const { get, set } = useAddress()
const { read } = useEvidence()
const { query } = useDocumentQuery()
const PAGE = 100
const ORDERS = [
  ['document', 'document'],
  ['left', 'word before'],
  ['hit', 'word found'],
  ['right', 'word after'],
] as const
type Order = (typeof ORDERS)[number][0]
const order = computed(() => get('by', 'document') as Order)
const offset = computed(() => Number(get('line', '0')))
const lines = useStrandQuery(
  'context',
  () => [query.value, order.value, offset.value],
  (strand) =>
    ask(
      client.GET('/api/strands/{strand_id}/concordance', {
        params: {
          ...strandPath(strand),
          query: { ...query.value, order: order.value, offset: offset.value, limit: PAGE },
        },
      }),
    ),
  () => query.value.find.trim() !== '',
)
const found = computed(() => lines.data.value)
const csv = computed(() => {
  const parts = new URLSearchParams()
  for (const [name, value] of Object.entries({ ...query.value, order: order.value }))
    for (const each of ([] as unknown[]).concat(value ?? [])) parts.append(name, String(each))
  return `/api/strands/${id.value}/concordance.csv?${parts}`
})
</script>

<template>
  <p v-if="!query.find.trim()" class="soft">Write what to look for; every place where it stands appears here.</p>
  <p v-else-if="lines.error.value" class="notice bad">{{ lines.error.value.message }}</p>
  <p v-else-if="found && !found.total" class="soft">
    It stands nowhere in these documents. Look for fewer words, or allow more between them.
  </p>
  <template v-else-if="found">
    <div class="row wrap small">
      <span class="numbers"
        >{{ counted(found.total, 'place') }} in {{ counted(found.documents, 'document')
        }}{{ found.whole ? '' : ', the first of more' }}</span
      >
      <span class="row" role="group" aria-label="Sort by">
        sort by
        <span>
          <button
            v-for="[key, label] in ORDERS"
            :key="key"
            class="plain mode"
            :aria-pressed="order === key"
            @click="set({ by: key, line: '' })">
            {{ label }}
          </button>
        </span>
      </span>
      <span class="grow" />
      <Button
        v-if="offset"
        label="Back"
        size="small"
        severity="secondary"
        @click="set({ line: String(offset - PAGE) })" />
      <span v-if="found.total > PAGE" class="soft numbers"
        >{{ count(offset + 1) }} to {{ count(Math.min(offset + PAGE, found.total)) }}</span
      >
      <Button
        v-if="offset + PAGE < found.total"
        label="More"
        size="small"
        severity="secondary"
        @click="set({ line: String(offset + PAGE) })" />
      <a :href="csv" download>Save as CSV</a>
    </div>
    <div class="lines" :class="{ waiting: lines.isPlaceholderData.value }">
      <button v-for="(line, at) in found.lines" :key="at" class="plain line" @click="read(line.document)">
        <span class="soft small cut">{{ line.name }}</span>
        <span class="book left"
          ><span>{{ line.left }}</span></span
        >
        <span class="book right"
          ><b>{{ line.hit }}</b
          >{{ line.right }}</span
        >
      </button>
    </div>
  </template>
</template>

<style scoped>
.lines {
  height: calc(100vh - 15rem);
  overflow: auto;
  border-top: 1px solid var(--hairline);
}
.waiting {
  opacity: 0.7;
}
.line {
  display: grid;
  grid-template-columns: 6rem minmax(0, 9fr) minmax(0, 10fr);
  width: 100%;
  padding: 0.16rem 0.2rem;
  border-bottom: 1px solid var(--hairline);
  align-items: baseline;
}
.line:hover {
  background: var(--woad-wash);
}
.left,
.right {
  white-space: pre;
  overflow: hidden;
}
.left {
  display: flex;
  justify-content: flex-end;
}
.line b {
  color: var(--woad);
}
</style>
