import { expect, test } from 'vitest'

import { residualLines } from './residual'

test('a cell against its margins, worked by hand', () => {
  // 20 of 40 in the row, 30 in the column, of 100: 12 by chance; variance 12 · .6 · .7 = 5.04
  const [expected, residual] = residualLines(20, 40, 30, 100)
  expect(expected.value).toBe(12)
  expect(residual.value).toBeCloseTo(8 / Math.sqrt(5.04), 12)
  expect(residual.numbers).toBe('(20 − 12.00) / √ (12.00 · 0.6000 · 0.7000)')
})

test('a row that is all there is tells nothing', () => {
  expect(residualLines(5, 10, 5, 10)[1].value).toBe(0)
})
