import type { Schemas } from '@/api/client'
import { count, decimal } from '@/marks/format'

/** How expected count and adjusted residual of a cell come from it, its row, its column and all. */
export function residualLines(n: number, row: number, column: number, all: number): Schemas['Line'][] {
  const expected = (row * column) / all
  const spread = Math.sqrt(expected * (1 - row / all) * (1 - column / all))
  const shown = decimal(expected, 2)
  return [
    {
      name: 'by chance',
      formula: 'row · column / all',
      numbers: `${count(row)} · ${count(column)} / ${count(all)}`,
      value: expected,
    },
    {
      name: 'adjusted residual',
      formula: '(n − e) / √ (e (1 − row / all) (1 − column / all))',
      numbers: `(${count(n)} − ${shown}) / √ (${shown} · ${decimal(1 - row / all, 4)} · ${decimal(1 - column / all, 4)})`,
      value: spread > 0 ? (n - expected) / spread : 0,
    },
  ]
}
