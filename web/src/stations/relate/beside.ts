import { computed, ref, watch } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { strandPath, useStrand, useStrandChange, useStrandQuery, useWanted } from '@/api/strand'

export type Choices = Schemas['RelateChoices']
export type Weighting = Schemas['Weighting']

/** What there is to choose from at this station. */
function useChoices() {
  const { ply } = useStrand()
  const query = useStrandQuery(
    'relate choices',
    () => ply('matrix')?.identity,
    (strand) => ask(client.GET('/api/strands/{strand_id}/relate/choices', { params: strandPath(strand) })),
    () => !!ply('matrix')?.identity,
  )
  return query.data
}

/** A result beside the chain: its settings as they are tried, whether there is one, and the way to make it. */
export function useBeside<Settings extends object>(step: string) {
  const { ply } = useStrand()
  const { wanted } = useWanted()
  const choices = useChoices()
  const identity = computed(() => ply(step)?.identity)
  const known = computed(() => (wanted.value?.beside?.[step] ?? choices.value?.suggested[step]) as Settings | undefined)
  const tried = ref<Settings>()
  watch(known, (settings) => settings && (tried.value = { ...settings }), { immediate: true })
  const start = useStrandChange((strand, body: Settings) =>
    ask(
      client.POST('/api/strands/{strand_id}/beside/{step}', {
        params: { path: { strand_id: strand, step } },
        body: body as Record<string, never>,
      }),
    ),
  )
  return {
    choices,
    tried,
    set: (part: Partial<Settings>) => (tried.value = { ...tried.value, ...part } as Settings),
    make: (part: Partial<Settings> = {}) => start.mutate({ ...tried.value, ...part } as Settings),
    identity,
    /** What the row of settings says of it, and whether something else is tried than what was made. */
    row: computed(() => ({
      made: !!identity.value,
      stale: ply(step)?.state === 'stale',
      changed: written(tried.value) !== written(ply(step)?.settings),
      starting: start.isPending.value,
    })),
  }
}

/** A value as text, whatever the order of its parts. */
const written = (value: unknown): string =>
  value && typeof value === 'object' && !Array.isArray(value)
    ? Object.entries(value)
        .sort(([one], [other]) => (one < other ? -1 : 1))
        .map(([name, part]) => `${name}=${written(part)}`)
        .join()
    : JSON.stringify(value ?? null)

export const text = (event: Event) => (event.target as HTMLInputElement | HTMLSelectElement).value
export const isOn = (event: Event) => (event.target as HTMLInputElement).checked
