import { expect, test } from 'vitest'

import { isTicked, ticked, unticked } from './phrases'

const row = {
  words: 'leading light',
  variants: [
    { words: 'leading light', tokens: 62 },
    { words: 'leading lights', tokens: 47 },
  ],
}

test('a ticked phrase brings its variants along, and takes them away again', () => {
  const terms = ticked(['Pilot launch', 'leading lights'], row)
  expect(terms).toEqual(['Pilot launch', 'leading light', 'leading lights = leading light'])
  expect(isTicked(terms, 'leading light')).toBe(true)
  expect(isTicked(terms, 'pilot launch')).toBe(true)
  expect(ticked(terms, row)).toEqual(terms)
  expect(unticked(terms, row)).toEqual(['Pilot launch'])
})
