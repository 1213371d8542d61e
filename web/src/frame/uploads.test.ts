import { expect, test } from 'vitest'

import { calledIn, checkSize, withKnownRoles, type Settings } from './uploads'

const settings = (roles: Settings['roles'], names: Settings['names'] = {}) => ({ roles, names }) as Settings
const first = {
  columns: ['entry', 'place', 'text'],
  settings: settings({ entry: 'identifier', place: 'group', text: 'text' }),
}

test('what is over the limit is not even sent', () => {
  const form = new FormData()
  form.append('name', 'a folder')
  for (const name of ['a.txt', 'b.txt']) form.append('files', new File(['x'.repeat(600_000)], name))
  expect(() => checkSize(form, 1_000_000)).toThrow('2 MB, over the limit of 1 MB')
  expect(() => checkSize(form, 2_000_000)).not.toThrow()
  expect(() => checkSize(form, 0)).not.toThrow()
})

test('a field has the role that it has in the files before', () => {
  const found = withKnownRoles(['place', 'text', 'watch'], settings({ place: 'kept', text: 'text', watch: 'kept' }), [
    first,
  ])
  expect(found.roles).toEqual({ place: 'group', text: 'text', watch: 'kept' })
})

test('a field that is called as another one takes its role', () => {
  const renamed = settings({ nr: 'kept', harbour: 'kept', said: 'text' }, { nr: 'entry', harbour: 'place' })
  expect(calledIn(renamed, 'nr')).toBe('entry')
  const found = withKnownRoles(['nr', 'harbour', 'said'], renamed, [first])
  expect(found.roles).toEqual({ nr: 'identifier', harbour: 'group', said: 'text' })
})

test('the text is each file’s own, and nothing known changes nothing', () => {
  const mine = settings({ entry: 'text', text: 'kept' })
  expect(withKnownRoles(['entry', 'text'], mine, [first])).toBe(mine)
  expect(withKnownRoles(['watch'], settings({ watch: 'group' }), []).roles).toEqual({ watch: 'group' })
  const unread = settings({})
  expect(withKnownRoles(['place'], unread, [first])).toBe(unread)
})
