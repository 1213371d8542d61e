import { describe, expect, it } from 'vitest'

import type { Strand } from './client'
import { answered, fetched, pending, shown } from './wanted'

const strand = (revision: number, least: number) =>
  ({ revision, wanted: { weigh: { min_documents: least } } }) as unknown as Strand

describe('the queue of wanted settings', () => {
  it('shows the last change while the answers to earlier ones come in', () => {
    pending()
    pending()
    const after = shown(strand(2, 5), strand(1, 9))
    expect(after).toMatchObject({ revision: 2, wanted: { weigh: { min_documents: 9 } } })
    expect(answered()).toBe(false)
    expect(shown(strand(3, 9), after)).toMatchObject({ revision: 3, wanted: { weigh: { min_documents: 9 } } })
    expect(answered()).toBe(true)
  })
  it('takes the server’s word where nothing else is on its way', () => {
    pending()
    expect(shown(strand(4, 5), strand(3, 9)).wanted.weigh?.min_documents).toBe(5)
    expect(answered()).toBe(true)
    expect(answered()).toBe(true)
  })
  it('is not undone by what was fetched before a change was answered', () => {
    pending()
    expect(fetched(strand(5, 1), strand(4, 9))).toMatchObject({ revision: 4, wanted: { weigh: { min_documents: 9 } } })
    expect(answered()).toBe(true)
    expect(fetched(strand(4, 1), strand(5, 9))).toMatchObject({ revision: 5, wanted: { weigh: { min_documents: 9 } } })
    expect(fetched(strand(6, 1), strand(5, 9))).toMatchObject({ revision: 6, wanted: { weigh: { min_documents: 1 } } })
  })
})
