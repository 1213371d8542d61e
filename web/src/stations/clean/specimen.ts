import type { Schemas } from '@/api/client'

type Piece = Schemas['TokenSegment']

/** What became of a token, in words: each pass's form, then how it ended. */
export function said(piece: Piece): string {
  if (piece.kind === 'plain') return ''
  const steps = (piece.trail ?? []).map((step) => `${step.form} (${step.by})`)
  const way = [piece.text.trim(), ...steps].join(' → ')
  if (piece.kind !== 'removed') return steps.length ? way : `${way}: kept as it stands`
  const why = piece.why ? `, ${piece.why}` : ''
  return piece.by ? `${way} → removed by ${piece.by}${why}` : `${way} → removed`
}

/** Places of the tokens that two cleanings of one text treat differently, for each of them. */
export function differing(left: Piece[], right: Piece[]): [Set<number>, Set<number>] {
  const places = (pieces: Piece[]) => {
    let offset = 0
    return pieces.map((piece, at) => {
      const begin = offset
      offset += piece.text.length
      return {
        at,
        begin,
        fate: `${piece.text}|${piece.kind === 'removed'}|${piece.form ?? ''}`,
        token: piece.kind !== 'plain',
      }
    })
  }
  const [one, two] = [places(left), places(right)]
  const fates = (list: typeof one) => new Map(list.filter((each) => each.token).map((each) => [each.begin, each.fate]))
  const [first, second] = [fates(one), fates(two)]
  const unlike = (list: typeof one, other: Map<number, string>) =>
    new Set(list.filter((each) => each.token && other.get(each.begin) !== each.fate).map((each) => each.at))
  return [unlike(one, second), unlike(two, first)]
}

const BEGUN = 90

/** The beginning of a text, up to the end of a word. */
export function begun(pieces: Piece[]): string {
  let text = ''
  for (const piece of pieces) {
    if (text.length + piece.text.length > BEGUN) break
    text += piece.text
  }
  return text.trim()
}
