import { computed } from 'vue'

import { useShape } from '@/frame/shape'

import { usePasses, type Pass } from './passes'

/** The lines of the pass Multiword terms, which is added where there is none. */
export function useTerms() {
  const passes = usePasses()
  const shape = useShape()
  const at = computed(() => passes.list.value.findIndex((each) => each.kind === 'multiword'))
  const terms = computed(() => (passes.list.value[at.value] as (Pass & { terms?: string[] }) | undefined)?.terms ?? [])
  return {
    terms,
    setTerms: (next: string[]) =>
      at.value >= 0 ? passes.set(at.value, { terms: next, on: true }) : passes.addFirst('multiword', { terms: next }),
    /** A field of the documents: which of some names or phrases each mentions most. */
    asField: (name: string, lines: string[]) =>
      shape.put(
        { kind: 'mentions', name, terms: lines, value: 'most' },
        (each) => each.kind === 'mentions' && each.name === name,
      ),
  }
}
