import { computed } from 'vue'

import { useStrand, useStrandQuery } from '@/api/strand'

/**
 * What the server finds under the wanted passes: of a sample at once, until the whole corpus has
 * answered; `whole` says whether it has.
 */
export function useSoonThenWhole<T>(name: string, fetch: (id: number, quick: boolean) => Promise<T>) {
  const { strand, made } = useStrand()
  const asked = (quick: boolean) =>
    useStrandQuery(
      quick ? `${name}, soon` : name,
      () => strand.value?.wanted.clean,
      (id) => fetch(id, quick),
      () => (made.value.corpus?.documents ?? 0) > 0,
    )
  const [soon, all] = [asked(true), asked(false)]
  const whole = computed(() => all.data.value !== undefined && !all.isPlaceholderData.value)
  const found = computed(() =>
    whole.value || soon.isPlaceholderData.value || !soon.data.value ? all.data.value : soon.data.value,
  )
  return { found, whole, error: all.error }
}
