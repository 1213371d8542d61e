import { describe, expect, it } from 'vitest'

import { narrows, queryOf } from './query'

const reading = (address: Record<string, string | string[]>) => {
  const all = (name: string) => ([] as string[]).concat(address[name] ?? [])
  return queryOf((name) => all(name)[0] ?? '', all)
}

describe('what narrows the list', () => {
  it('is nothing until something is asked for', () => {
    expect(narrows(reading({}))).toBe(false)
    expect(narrows(reading({ as: 'expression', tab: 'documents' }))).toBe(false)
    const parts: Record<string, string | string[]>[] = [
      { find: 'ice' },
      { where: ['a:b'] },
      { language: ['German'] },
      { flag: 'near' },
      { set: 'topic=3' },
      { most: '0' },
      { least: '0' },
      { to: '2014' },
    ]
    for (const part of parts) expect(narrows(reading(part))).toBe(true)
  })

  it('counts words up to and with the most', () => {
    expect(reading({ least: '5', most: '9' })).toMatchObject({ words_from: 5, words_to: 10 })
    expect(reading({ least: '5' }).words_to).toBeUndefined()
  })

  it('leaves out what is not in the address', () => {
    expect(reading({ find: 'i.e', as: 'expression' })).toMatchObject({ find: 'i.e', expression: true })
    expect(reading({}).flag).toBeUndefined()
  })
})
