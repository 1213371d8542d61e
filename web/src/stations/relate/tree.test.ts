import { expect, test } from 'vitest'

import { clustersAt, cutNodes, heightOfCut, picture, type Tree } from './tree'

/** Two pairs, then both: items 0 2 | 1 3. */
const tree: Tree = {
  joined: [
    [0, 2],
    [1, 3],
    [4, 5],
  ],
  heights: [1, 2, 5],
  order: [3, 1, 2, 0],
}

test('a cut leaves the nodes whose join lies above it, from top to bottom', () => {
  expect(cutNodes(tree, 1)).toEqual([6])
  expect(cutNodes(tree, 2)).toEqual([5, 4])
  expect(cutNodes(tree, 3)).toEqual([3, 1, 4])
  expect(cutNodes(tree, 9)).toEqual([3, 1, 2, 0])
  expect([0, 1, 2, 4.9, 5].map((height) => clustersAt(tree, height))).toEqual([4, 3, 2, 2, 1])
})

test('a cut at its height leaves as many clusters as it was for', () => {
  for (const number of [1, 2, 3, 4]) expect(clustersAt(tree, heightOfCut(tree, number))).toBe(number)
})

test('what lies below the cut is one row, until it is opened', () => {
  const folded = picture(tree, 2, new Set())
  expect(folded.rows.map((row) => [row.node, row.cluster, row.folded])).toEqual([
    [5, 0, true],
    [4, 1, true],
  ])
  expect(folded.threads.map((each) => [each.from, each.to, each.items])).toEqual([
    [[2, 0], [5, 0.5], 2],
    [[1, 1], [5, 0.5], 2],
  ])
  const open = picture(tree, 2, new Set([5]))
  expect(open.rows.map((row) => row.node)).toEqual([3, 1, 4])
  expect(open.threads.filter((each) => each.cluster === 0)).toHaveLength(3)
})

test('every item has a row where all is open, in the order of the leaves', () => {
  const all = picture(tree, 4, new Set())
  expect(all.rows.map((row) => row.node)).toEqual(tree.order)
  expect(all.rows.some((row) => row.folded)).toBe(false)
  expect(all.threads).toHaveLength(6)
})
