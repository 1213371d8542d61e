import { expect, test } from 'vitest'

import { asOneWord, asSeedWords, asTerm } from './hand'

type Passes = Parameters<typeof asTerm>[0]
const passes = [{ kind: 'case' }, { kind: 'word-forms' }] as Passes

test('words of a cluster become one word where words have their forms', () => {
  const once = asOneWord(passes, ['gale', 'storm', 'squall'])
  expect(once.map((each) => each.kind)).toEqual(['case', 'word-forms', 'replacements'])
  expect(once[2]).toMatchObject({ on: true, pairs: ['storm = gale', 'squall = gale'] })
  const twice = asOneWord(once, ['gale', 'storm', 'blow'])
  expect(twice).toHaveLength(3)
  expect(twice[2]).toMatchObject({ pairs: ['storm = gale', 'squall = gale', 'blow = gale'] })
})

test('words in a row become one term, once', () => {
  const once = asTerm(passes, 'perran holt')
  expect(once[0]).toMatchObject({ kind: 'multiword', terms: ['perran holt'] })
  expect(asTerm(asTerm(once, 'pilot launch'), 'perran holt')[0]).toMatchObject({
    terms: ['pilot launch', 'perran holt'],
  })
})

test('words for a topic are kept, and let go', () => {
  const kept = asSeedWords([['ferry', 'ramp']], ['gale', 'storm'])
  expect(kept).toEqual([
    ['ferry', 'ramp'],
    ['gale', 'storm'],
  ])
  expect(asSeedWords(kept, ['gale', 'storm'])).toEqual([['ferry', 'ramp']])
})
