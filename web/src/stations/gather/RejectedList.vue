<script setup lang="ts">
import { computed } from 'vue'

import { ask, client } from '@/api/client'
import { strandPath, useStrandId, useStrandQuery } from '@/api/strand'
import { count } from '@/marks/format'

const id = useStrandId()
const rejected = useStrandQuery('rejected', 0, (strand) =>
  ask(client.GET('/api/strands/{strand_id}/rejected', { params: strandPath(strand) })),
)
const kinds = computed(() => rejected.data.value ?? [])
</script>

<template>
  <section>
    <p v-if="!kinds.length">Every row was read. Nothing was left out.</p>
    <template v-else>
      <p><a :href="`/api/strands/${id}/rejected.csv`" download>Save all as CSV</a></p>
      <details
        v-for="kind in kinds"
        :key="`${kind.left_out} ${kind.reason}`"
        :open="kinds.length === 1 || kind.count === 1">
        <summary>
          <b class="numbers" :class="{ loss: kind.left_out }">{{ count(kind.count) }}</b>
          {{ ' ' }}
          <span :class="{ loss: kind.left_out }">{{ kind.left_out ? 'left out' : 'noted' }}</span>
          {{ kind.reason }}
        </summary>
        <table>
          <thead>
            <tr>
              <th>file</th>
              <th>at</th>
              <th>what happened</th>
              <th v-if="kind.left_out">as it was</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(row, at) in kind.rows" :key="at">
              <td>{{ row.file }}</td>
              <td class="numbers">{{ row.line ? `${row.unit} ${row.line}` : '' }}</td>
              <td>{{ row.reason }}</td>
              <td v-if="kind.left_out">
                <code>{{ row.raw }}</code>
              </td>
            </tr>
          </tbody>
        </table>
        <p v-if="kind.count > kind.rows.length" class="soft small">
          The first {{ count(kind.rows.length) }} of {{ count(kind.count) }}; the CSV has all.
        </p>
      </details>
    </template>
  </section>
</template>

<style scoped>
details {
  border-bottom: 1px solid var(--hairline);
  padding: 0.4rem 0;
}
summary {
  cursor: pointer;
}
summary b {
  display: inline-block;
  min-width: 4rem;
  text-align: right;
  margin-right: 0.5rem;
}
table {
  margin: 0.4rem 0 0.4rem 4.5rem;
}
td,
th {
  text-align: left;
  vertical-align: top;
  padding: 0.3rem 1rem 0.3rem 0;
  border-bottom: 1px solid var(--hairline);
}
code {
  white-space: pre-wrap;
  overflow-wrap: anywhere;
  display: block;
  max-width: 40rem;
  max-height: 6rem;
  overflow: auto;
}
</style>
