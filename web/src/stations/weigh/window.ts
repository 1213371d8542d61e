/** Which rows or columns of a long list are in view, with a margin, at most `most` of them. */
export function inView(scroll: number, room: number, size: number, total: number, margin = 6, most = 110) {
  const first = Math.max(0, Math.min(total - 1, Math.floor(scroll / size)) - margin)
  const last = Math.min(total, Math.ceil((scroll + room) / size) + margin)
  return { first, count: Math.max(0, Math.min(most, last - first)) }
}

/** Where a place is scrolled to, so that it is seen whole. */
export function scrolledTo(at: number, size: number, scroll: number, room: number): number {
  if (at * size < scroll) return at * size
  if ((at + 1) * size > scroll + room) return (at + 1) * size - room
  return scroll
}
