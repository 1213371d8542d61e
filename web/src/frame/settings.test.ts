import { describe, expect, it } from 'vitest'

import { typedNumber, type Field } from './settings'

describe('typedNumber', () => {
  const whole: Field = { title: 'topics', type: 'integer', minimum: 2, maximum: 500 }
  const share: Field = { title: 'alpha', type: 'number', exclusiveMinimum: 0, open: true }
  it('takes what lies within the range', () => {
    expect(['2', '12', '500'].map((typed) => typedNumber(whole, typed))).toEqual([2, 12, 500])
    expect(typedNumber(share, '0.05')).toBe(0.05)
  })
  it('refuses what does not', () => {
    for (const typed of ['1', '501', '2.5', 'many', '']) expect(typedNumber(whole, typed)).toBeUndefined()
    expect(typedNumber(share, '0')).toBeUndefined()
  })
  it('leaves open what may be left open', () => expect(typedNumber(share, ' ')).toBeNull())
})
