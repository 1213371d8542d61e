import { expect, test } from 'vitest'

import { mergedInto, termsOf } from './names'

const tarrow = {
  words: 'Ines Tarrow',
  variants: [
    { words: 'Tarrow', tokens: 4 },
    { words: 'Ines Tarrow', tokens: 2 },
  ],
}
const holt = { words: 'Perran Holt', variants: [{ words: 'Perran Holt', tokens: 3 }] }

test('a name is found by all its variants', () => {
  expect(termsOf([tarrow, holt])).toEqual(['Ines Tarrow', 'Tarrow = Ines Tarrow', 'Perran Holt'])
})

test('names are brought under the first of them', () => {
  expect(mergedInto({ a: 'B' }, [tarrow, holt])).toEqual({ a: 'B', 'perran holt': 'Ines Tarrow' })
})
