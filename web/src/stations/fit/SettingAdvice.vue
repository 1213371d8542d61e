<script setup lang="ts">
import { computed } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { strandPath, useStrandQuery } from '@/api/strand'

/** What each setting may be for this corpus, and what less and more of it come to there. */
type Settings = Schemas['MethodKind']['suggested']
type Advice = Schemas['Advice']
const props = defineProps<{ settings: Settings; openTo: Record<string, string | undefined> }>()
const emit = defineEmits<{ take: [string, unknown] }>()
const query = useStrandQuery(
  'advice',
  () => JSON.stringify(props.settings),
  (strandId) =>
    ask(client.POST('/api/strands/{strand_id}/advice', { params: strandPath(strandId), body: props.settings })),
)
const now = (name: string) => (props.settings as Record<string, unknown>)[name] ?? null
const rows = computed(() =>
  (query.data.value ?? []).map(({ setting, advice }) => ({
    name: setting,
    advice,
    taken: now(setting) === advice.value,
    called: setting.replaceAll('_', ' '),
    value: advice.value ?? `left open: ${props.openTo[setting] ?? 'found'}`,
  })),
)
const short = (number: number) =>
  String(Number(number.toPrecision(2)) >= 100 ? Math.round(number) : +number.toPrecision(2))
const safe = ({ low, high }: Advice) => {
  if (low == null) return ''
  return high == null ? `${short(low)} or more` : `${short(low)} to ${short(high)}`
}
const outside = (name: string, { low, high }: Advice) => {
  const value = now(name)
  return typeof value === 'number' && ((low != null && value < low) || (high != null && value > high))
}
</script>

<template>
  <section class="advice" aria-label="Settings for this corpus" :aria-busy="query.isFetching.value">
    <p v-if="query.error.value" class="notice">{{ query.error.value.message }}</p>
    <p v-else-if="!rows.length && query.isFetching.value" class="soft">
      Measuring on a sample of the documents. It takes a second or two.
    </p>
    <p v-else-if="!rows.length" class="soft">This method has nothing to say of its settings.</p>
    <table v-else>
      <thead>
        <tr>
          <th scope="col">setting</th>
          <th scope="col">suggested</th>
          <th scope="col">safe here</th>
          <th scope="col">
            {{ query.isFetching.value ? 'measuring anew' : 'why, and what less and more come to in this corpus' }}
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.name">
          <th scope="row">{{ row.called }}</th>
          <td>
            {{ row.value }}
            <button
              v-if="!row.taken"
              type="button"
              class="plain link"
              :aria-label="`Take ${row.value} for ${row.called}`"
              @click="emit('take', row.name, row.advice.value)">
              take
            </button>
          </td>
          <td :class="{ loss: outside(row.name, row.advice) }">
            {{ safe(row.advice) }}
            <span v-if="outside(row.name, row.advice)" class="small">now {{ now(row.name) }}</span>
          </td>
          <td>
            {{ row.advice.why }}.
            <span v-if="row.advice.little" class="soft">Less: {{ row.advice.little }}.</span>
            <span v-if="row.advice.much" class="soft"> More: {{ row.advice.much }}.</span>
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.advice {
  flex-basis: 100%;
  overflow-x: auto;
}
table {
  border-collapse: collapse;
  width: 100%;
  font-size: 0.86rem;
}
th,
td {
  text-align: left;
  vertical-align: baseline;
  padding: 0.35rem 1.1rem 0.35rem 0;
  border-bottom: 1px solid var(--hairline);
}
thead th {
  color: var(--soft);
  font-weight: 400;
}
td:last-child {
  min-width: 14rem;
}
</style>
