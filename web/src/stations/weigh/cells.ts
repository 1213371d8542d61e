import { computed } from 'vue'

import { ask, client } from '@/api/client'
import { strandPath, useStrand, useStrandQuery } from '@/api/strand'
import { useAddress } from '@/frame/address'
import { writeRequest } from '@/frame/evidence'

export interface Cell {
  document: number
  term: string
}
export const writeCell = (cell: Cell) => `${cell.document + 1} ${cell.term}`
export function readCell(text: string): Cell | null {
  const found = /^(\d+) (.+)$/s.exec(text)
  return found ? { document: Math.max(0, Number(found[1]) - 1), term: found[2] } : null
}

/** Open a cell: to its formula, and to its evidence; a zero has the document that lacks the term. */
export function useOpenCell() {
  const { set } = useAddress()
  return ({ document, term }: Cell, zero = false) => {
    const request = zero ? { document } : { term, document }
    return set({ cell: writeCell({ document, term }), ev: writeRequest(request), evp: '' })
  }
}

/** The cell in the address, or else the one with the largest count: it stays while weights are tried. */
export function useCell() {
  const { get } = useAddress()
  const { strand, ply } = useStrand()
  const chosen = computed(() => readCell(get('cell')))
  const query = useStrandQuery(
    'largest cell',
    () => [strand.value?.wanted.clean, strand.value?.wanted.weigh],
    (id) =>
      ask(
        client.GET('/api/strands/{strand_id}/matrix/cells', {
          params: { ...strandPath(id), query: { limit: 1, sort: '-n' } },
        }),
      ),
    () => !chosen.value && !!ply('cleaning')?.identity,
  )
  return { cell: computed(() => chosen.value ?? query.data.value?.rows[0] ?? null), chosen }
}
