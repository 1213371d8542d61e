import { computed, ref, shallowRef, watch } from 'vue'

import { ask, client, type Problem, type Schemas } from '@/api/client'
import { oneAtATime } from '@/api/newest'
import { strandPath, useStrand, useWanted } from '@/api/strand'

import type { Settings } from './pruning'

/**
 * Limits that are being tried: what they leave is asked for while a handle moves; they are wanted once it is let go.
 */
export function useTrying() {
  const { id, strand, ply } = useStrand()
  const { wanted, change } = useWanted()
  const tried = ref<Settings | null>(null)
  const settings = computed(() => tried.value ?? wanted.value?.weigh)
  const found = shallowRef<Schemas['Pruned']>()
  const fault = ref('')
  const look = oneAtATime(async () => {
    if (!settings.value || !ply('cleaning')?.identity) return
    const body = settings.value
    await ask(client.POST('/api/strands/{strand_id}/pruning', { params: strandPath(id.value), body }))
      .then((answer) => {
        found.value = answer
        fault.value = ''
      })
      .catch((problem: Problem) => (fault.value = problem.message))
  })
  watch(() => [id.value, settings.value, strand.value?.wanted.clean, ply('matrix')?.identity], look, {
    immediate: true,
    deep: true,
  })
  /** Show what limits would leave. */
  const attempt = (part: Settings) => (tried.value = part)
  /** Want limits, those that are tried or others. */
  async function want(part: Settings | null = tried.value) {
    if (!part) return
    tried.value = part
    await change({ weigh: part })
    if (JSON.stringify(tried.value) === JSON.stringify(part)) tried.value = null
  }
  return { settings, found, fault, attempt, want }
}
export type Trying = ReturnType<typeof useTrying>
