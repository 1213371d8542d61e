import { describe, expect, it } from 'vitest'

import type { Strand } from '@/api/client'

import { describePly, passName, passTitle, settingText } from './plies'
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

describe('the strand bar', () => {
  const strand = { name: 'Sollen Harbours' } as Strand
  const ply = (step: string, settings: object, summary: object) =>
    describePly(strand, { step, state: 'ready', identity: 'x', settings, summary } as never)

  it('names each ply and says its size', () => {
    expect(ply('corpus', {}, { documents: 2420 })).toEqual(['Sollen Harbours', '2\u202f420 documents'])
    const stems = { passes: [{ kind: 'word-forms', on: true }] }
    expect(ply('cleaning', stems, { tokens: 10 })).toEqual(['stems', '10 tokens'])
    expect(ply('cleaning', { passes: [{ kind: 'word-forms', on: false }] }, { tokens: 10 })[0]).toBe('words')
    expect(ply('matrix', { longest: 2 }, { terms: 5 })).toEqual(['1–2-grams, counts', '5 terms'])
    expect(ply('matrix', { longest: 1 }, { terms: 5 })[0]).toBe('words, counts')
    expect(ply('fit', { topics: 12, seed: 7 }, {})).toEqual(['LDA 12', 'seed 7'])
  })
  it('writes settings as words', () => {
    expect([true, false, null, [], ['a', 'b'], 3].map(settingText)).toEqual([
      'on',
      'off',
      'not set',
      'none',
      'a, b',
      '3',
    ])
    expect([passName('stop-words'), passTitle('stop-words'), passName('other')]).toEqual([
      'stop words',
      'Stop words',
      'other',
    ])
  })
})
