<script setup lang="ts">
import { computed } from 'vue'

import { ask, client } from '@/api/client'
import { strandPath, useStrand, useStrandChange, useStrandQuery } from '@/api/strand'
import { count, percent } from '@/marks/format'

/** The matrices of this cleaning side by side, and what is different about each. */
const { ply } = useStrand()
const query = useStrandQuery(
  'matrices',
  () => [ply('cleaning')?.identity, ply('matrix')?.identity],
  (id) => ask(client.GET('/api/strands/{strand_id}/matrices', { params: strandPath(id) })),
  () => !!ply('matrix')?.identity,
)
const rows = computed(() => query.data.value ?? [])
const take = useStrandChange((id, identity: string) =>
  ask(
    client.POST('/api/strands/{strand_id}/switch', {
      params: strandPath(id),
      body: { identity },
    }),
  ),
)
/** A setting in a few words: one that is left out is as usual. */
function value(given: unknown): string {
  if (given === null || given === undefined) return 'as usual'
  if (Array.isArray(given)) return given.map(value).join(', ') || 'none'
  if (typeof given !== 'object') return String(given)
  return Object.entries(given)
    .map(([name, each]) => `${name.replaceAll('_', ' ')} ${value(each)}`)
    .join(', ')
}
</script>

<template>
  <section v-if="rows.length > 1" aria-label="Matrices of this cleaning">
    <h3>Matrices of this cleaning</h3>
    <table class="ledger small">
      <thead class="soft">
        <tr>
          <th>matrix</th>
          <th class="numbers">terms</th>
          <th class="numbers">shared</th>
          <th class="numbers">non-zeros</th>
          <th class="numbers">sparsity</th>
          <th class="numbers">emptied</th>
          <th>other than here</th>
          <th />
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.identity">
          <td>{{ row.said.name }}</td>
          <td class="numbers">{{ count(row.summary.terms) }}</td>
          <td class="numbers">{{ count(row.shared) }}</td>
          <td class="numbers">{{ count(row.summary.nonzero) }}</td>
          <td class="numbers">{{ percent(row.summary.sparsity) }}</td>
          <td class="numbers">{{ count(row.summary.emptied) }}</td>
          <td>
            <span v-for="(each, name) in row.differs" :key="name" class="differs"
              >{{ String(name).replaceAll('_', ' ') }} {{ value(each.there) }}
              <span class="soft">({{ value(each.here) }})</span>
            </span>
          </td>
          <td>
            <span v-if="row.current" class="soft">here</span>
            <button v-else class="plain link" @click="take.mutate(row.identity)">switch</button>
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.differs + .differs::before {
  content: '; ';
}
</style>
