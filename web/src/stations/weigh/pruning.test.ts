import { describe, expect, it } from 'vitest'

import { atLeast, atMost, bins, bounds, pinned, typedPercent, type Settings } from './pruning'

const settings = { longest: 1, min_documents: 5, min_share: 0, max_share: 0.5 } as Settings

describe('bins of document frequency', () => {
  it('hold every term once, whatever the number of documents', () => {
    for (const documents of [1, 2, 7, 2412, 100_000]) {
      const spectrum = Array.from(
        { length: Math.min(documents, 3000) },
        (_, at) => [at + 1, at + 2] as [number, number],
      )
      const found = bins(spectrum, documents)
      expect(found.reduce((sum, bin) => sum + bin.terms, 0)).toBe(spectrum.reduce((sum, [, terms]) => sum + terms, 0))
      expect(found[0].from).toBe(1)
      expect(found[found.length - 1].to).toBeGreaterThan(documents)
      found.slice(1).forEach((bin, at) => expect(bin.from).toBe(found[at].to))
    }
  })
  it('put a term where its number is', () => {
    const found = bins([[1, 4], [2, 3], [900, 2]], 1000) // prettier-ignore
    expect(found.find((bin) => bin.from <= 900 && 900 < bin.to)?.terms).toBe(2)
    expect(found[0].terms).toBe(4)
  })
})

describe('limits said in several ways', () => {
  it('say the same as a number, a share and a sparsity limit', () => {
    expect(atLeast.documents(settings, 7)).toMatchObject({ min_documents: 7, min_share: 0 })
    expect(atLeast.absent(settings, 0.99)).toMatchObject({ min_documents: 1, min_share: 0.01 })
    expect(atLeast.share(settings, 0.01)).toEqual(atLeast.absent(settings, 0.99))
    expect(atLeast.documents(settings, Number.NaN).min_documents).toBe(1)
  })
  it('bound the documents by the stricter of number and share', () => {
    expect(bounds({ ...settings, min_documents: 5, min_share: 0.1, max_share: 0.29 } as Settings, 100)).toEqual({ least: 10, most: 29 }) // prettier-ignore
    expect(bounds({ ...settings, min_share: 0, max_share: 1, max_documents: 7 } as Settings, 100)).toEqual({ least: 5, most: 7 }) // prettier-ignore
  })
  it('lift the upper limit at its end', () => {
    expect(atMost.documents(settings, 100, 100)).toMatchObject({ max_documents: null, max_share: 1 })
    expect(atMost.documents(settings, 99, 100)).toMatchObject({ max_documents: 99, max_share: 1 })
    expect(atMost.share(settings, 0.4)).toMatchObject({ max_documents: null, max_share: 0.4 })
  })
  it('are written with as many digits as make a difference', () => {
    expect(typedPercent(5 / 2412, 2412)).toBe(0.207)
    expect(typedPercent(0.5, 10)).toBe(50)
  })
})

it('a pin takes the place of another', () => {
  const stays = pinned(settings, 'gale', 'stay')
  expect(stays.stay).toEqual(['gale'])
  const goes = pinned(stays, 'gale', 'go')
  expect([goes.stay, goes.go]).toEqual([[], ['gale']])
  expect(pinned(goes, 'gale', '').go).toEqual([])
})
