import { describe, expect, it } from 'vitest'

import { AS_NUMBER, fieldOf, pairsOf, termsOf, toggled } from './regression'

describe('terms of a regression', () => {
  it('has a field of groups and numbers as either', () => {
    const terms = termsOf(['harbour', 'swell'], ['swell', 'depth'], true)
    expect(terms).toEqual(['harbour', 'swell', `swell${AS_NUMBER}`, 'depth', 'date'])
    expect(terms.map(fieldOf)).toEqual(['harbour', 'swell', 'swell', 'depth', 'date'])
    expect(termsOf([], [], false)).toEqual([])
  })
  it('takes a field once', () => {
    expect(toggled(['harbour', 'swell'], `swell${AS_NUMBER}`)).toEqual(['harbour', `swell${AS_NUMBER}`])
    expect(toggled(['harbour', 'swell'], 'swell')).toEqual(['harbour'])
  })
  it('pairs fields by their names', () => {
    expect(pairsOf(['harbour', `swell${AS_NUMBER}`, 'date'])).toEqual([
      'harbour × swell',
      'harbour × date',
      'swell × date',
    ])
  })
})
