import { expect, test } from 'vitest'

import { byOffset, isUnsure, shownTags, tagStyle, tagTitle, toggleTag } from './tags'

const noun = { text: 'tide', kind: 'tag', form: 'NOUN', by: 'Number=Sing', weight: 0.62 }

test('no two parts of speech have the same dye and line', () => {
  const tags = ['NOUN', 'VERB', 'ADJ', 'ADV', 'PROPN', 'PRON', 'AUX', 'DET', 'ADP', 'CCONJ', 'NUM', 'X']
  expect(new Set(tags.map((tag) => tagStyle(tag).textDecoration)).size).toBe(tags.length)
})

test('a tag says its name, what is finer, and how sure it is', () => {
  expect(tagTitle(noun, new Map([['NOUN', 'noun']]))).toBe('noun · Number=Sing · 62\u202f% sure')
  expect(isUnsure(noun)).toBe(true)
})

test('pieces are found by where they begin, and tags are switched on and off', () => {
  expect([...byOffset([{ text: 'The ', kind: 'plain', weight: 0 }, noun]).keys()]).toEqual([4])
  toggleTag('NOUN')
  expect(shownTags.value.has('NOUN')).toBe(false)
  toggleTag('NOUN')
  expect(shownTags.value.has('NOUN')).toBe(true)
})
