import type { ApartCell, ApartPart } from '@/api/apart'

/** What became of a topic in a part's own model, in words. */
export function became(cell: ApartCell, part: ApartPart): string {
  if (!cell.shown) return 'too few of its words there to say'
  const names = cell.into.map((each) => `“${part.topics[each.own]?.title}”`).join(' and ')
  const said = {
    same: `the same: ${names}`,
    split: cell.into.length > 1 ? `splits into ${names}` : `a part of it is ${names}`,
    merged: `with others in ${names}`,
    gone: 'not found there',
    new: 'new',
  }[cell.became]
  return `${said}, by ${Math.round(100 * cell.held)} % of the seeds`
}

/** The thread of a topic through a part as paths in a cell of some size; a split forks, what merged bends away. */
export function paths(kind: ApartCell['became'], width: number, height: number): string[] {
  const [middle, half] = [height / 2, width / 2]
  const bend = (to: number) => `M0,${middle}C${half},${middle} ${half},${to} ${width},${to}`
  if (kind === 'split') return [bend(height * 0.22), bend(height * 0.78)]
  if (kind === 'merged') return [bend(height * 0.78)]
  if (kind === 'gone') return [`M0,${middle}L${width * 0.3},${middle}`]
  return [`M0,${middle}L${width},${middle}`]
}
