<script setup lang="ts">
import { computed } from 'vue'

import { ask, client } from '@/api/client'
import { strandPath, useStrandId, useStrandQuery } from '@/api/strand'

const id = useStrandId()
const rejected = useStrandQuery('rejected', 0, (strand) =>
  ask(client.GET('/api/strands/{strand_id}/rejected', { params: strandPath(strand) })),
)
const rows = computed(() => rejected.data.value ?? [])
</script>

<template>
  <section>
    <p v-if="!rows.length">Every row was read. Nothing was left out.</p>
    <template v-else>
      <p><a :href="`/api/strands/${id}/rejected.csv`" download>Save all as CSV</a></p>
      <table>
        <thead>
          <tr>
            <th>file</th>
            <th>at</th>
            <th>what happened</th>
            <th>as it was</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(row, at) in rows" :key="at">
            <td>{{ row.file }}</td>
            <td class="numbers">{{ row.line ? `${row.unit} ${row.line}` : '' }}</td>
            <td :class="{ loss: row.raw !== null }">{{ row.raw === null ? '' : 'left out: ' }}{{ row.reason }}</td>
            <td>
              <code>{{ row.raw }}</code>
            </td>
          </tr>
        </tbody>
      </table>
    </template>
  </section>
</template>

<style scoped>
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
