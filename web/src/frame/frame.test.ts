import { describe, expect, it } from 'vitest'

import { settingText } from './plies'
import { readSelection, writeSelection, type Selection } from './selection'

describe('a selection in the address', () => {
  const selections: Selection[] = [
    { term: 'engin' },
    { term: 'outer breakwat' },
    { topic: 0 },
    { topic: 3, field: 'harbour', value: 'Little Marre', period: 'quarter', at: '2014-Q1' },
    { field: 'a=b&c', value: 'x&y=z %' },
    { words_from: 0, words_to: 10 },
    { removed_by: 'stop-words' },
  ]
  it('reads back as it was written', () => {
    for (const selection of selections) expect(readSelection(writeSelection(selection))).toEqual(selection)
  })
  it('leaves out what is not set', () => {
    expect(writeSelection({ topic: 2, field: undefined })).toBe('topic=2')
    expect(readSelection('')).toEqual({})
  })
  it('tells different selections apart', () => {
    expect(new Set(selections.map(writeSelection)).size).toBe(selections.length)
  })
})

describe('settings', () => {
  it('writes settings as words', () => {
    expect([true, false, null, [], ['a', 'b'], 3].map(settingText)).toEqual([
      'on',
      'off',
      'not set',
      'none',
      'a, b',
      '3',
    ])
  })
})
