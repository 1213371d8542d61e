/** A tree as the server sends it: steps that join items or earlier steps, their heights, items from top to bottom. */
export interface Tree {
  joined: number[][]
  heights: number[]
  order: number[]
}

/** One line of the picture: a cluster that is folded, or an item of one that is open. */
export interface Row {
  node: number
  /** The place of its cluster from top to bottom. */
  cluster: number
  folded: boolean
}

/** A thread from a node to the one that it runs into. */
export interface Thread {
  node: number
  /** Of the cluster that it lies in; -1 above the cut. */
  cluster: number
  from: [number, number]
  to: [number, number]
  items: number
}

const items = (tree: Tree) => tree.heights.length + 1
export const heightOf = (tree: Tree, node: number) => (node < items(tree) ? 0 : tree.heights[node - items(tree)])

/** How many clusters are left where all that lies at most so far apart is joined. */
export const clustersAt = (tree: Tree, height: number) =>
  items(tree) - tree.heights.filter((each) => each <= height).length

/** A height at which a cut leaves so many clusters: in the middle of those that do. */
export function heightOfCut(tree: Tree, number: number): number {
  const n = items(tree)
  const low = number < n ? tree.heights[n - number - 1] : 0
  const high = number > 1 ? tree.heights[n - number] : (tree.heights.at(-1) ?? 0) * 1.03
  return (low + high) / 2
}

/** The nodes that a cut leaves, from top to bottom. */
export function cutNodes(tree: Tree, number: number): number[] {
  const n = items(tree)
  const steps = n - Math.min(Math.max(number, 1), n)
  const place = firstPlaces(tree)
  const used = new Set(tree.joined.slice(0, steps).flat())
  const tops = [...Array(n + steps).keys()].filter((node) => !used.has(node))
  return tops.sort((one, other) => place[one] - place[other])
}

/** The first place from the top that each node has. */
function firstPlaces(tree: Tree): number[] {
  const found: number[] = []
  tree.order.forEach((item, at) => (found[item] = at))
  tree.joined.forEach(([one, other], step) => (found[items(tree) + step] = Math.min(found[one], found[other])))
  return found
}

/** Rows from top to bottom, and the threads between nodes in rows and heights. */
export function picture(tree: Tree, number: number, opened: Set<number>): { rows: Row[]; threads: Thread[] } {
  const n = items(tree)
  const place = firstPlaces(tree)
  const cluster = new Map(cutNodes(tree, number).map((node, at) => [node, at]))
  const size: number[] = Array(n).fill(1)
  tree.joined.forEach(([one, other], step) => (size[n + step] = size[one] + size[other]))
  const rows: Row[] = []
  const threads: Thread[] = []
  /** The row at which a node lies, in the middle of what runs into it. */
  function draw(node: number, inside: number): number {
    const here = cluster.get(node) ?? inside
    const folded = cluster.has(node) && !opened.has(node)
    if (node < n || folded) return rows.push({ node, cluster: here, folded: folded && node >= n }) - 1
    const halves = [...tree.joined[node - n]].sort((one, other) => place[one] - place[other])
    const at = halves.map((half) => draw(half, here))
    const middle = (at[0] + at[1]) / 2
    halves.forEach((half, which) =>
      threads.push({
        node: half,
        cluster: cluster.get(half) ?? here,
        from: [heightOf(tree, half), at[which]],
        to: [tree.heights[node - n], middle],
        items: size[half],
      }),
    )
    return middle
  }
  draw(n - 1 + tree.heights.length, -1)
  return { rows, threads }
}
