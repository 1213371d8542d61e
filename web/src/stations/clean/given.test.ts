import { expect, test } from 'vitest'

import { withForms } from './given'

test('what is given by hand names a word once', () => {
  const given = withForms(['gales = gale', 'a=b = c'], { Gales: 'Gales', berth: 'moor' })
  expect(given).toEqual(['a=b = c', 'Gales = Gales', 'berth = moor'])
})
