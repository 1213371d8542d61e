import { expect, it } from 'vitest'

import { familiesOf } from './families'

const topic = (at: number, family: string, mean: number) => ({
  topic: at,
  family,
  dye: at,
  share: { mean, low: null, high: null },
})

it('sorts topics into families, the largest first and those without one last', () => {
  const found = familiesOf([topic(0, '', 0.5), topic(1, 'sea', 0.1), topic(2, 'land', 0.3), topic(3, 'sea', 0.1)])
  expect(found.map((each) => [each.name, each.topics.map((one) => one.topic)])).toEqual([
    ['land', [2]],
    ['sea', [1, 3]],
    ['', [0]],
  ])
  expect(found[1].share).toBeCloseTo(0.2)
})
