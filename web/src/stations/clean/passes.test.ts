import { describe, expect, it } from 'vitest'

import { moved } from './passes'

describe('moved', () => {
  it('puts a member at another place and keeps the rest in order', () => {
    expect(moved(['a', 'b', 'c', 'd'], 0, 2)).toEqual(['b', 'c', 'a', 'd'])
    expect(moved(['a', 'b', 'c', 'd'], 3, 1)).toEqual(['a', 'd', 'b', 'c'])
  })
  it('gives the same list where nothing moves', () => {
    const list = ['a', 'b']
    for (const [from, to] of [
      [0, 0],
      [0, -1],
      [1, 2],
    ])
      expect(moved(list, from, to)).toBe(list)
  })
})
