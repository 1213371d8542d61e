import { ref } from 'vue'

import type { Piece } from '@/api/client'

import { colour } from './dyes'
import { percent } from './format'

/** How the words of each part of speech are marked: a dye and a line, so that colour is never alone. */
const LINES = ['solid', 'wavy', 'dotted', 'dashed', 'double']
const ORDER = [
  ...['NOUN', 'VERB', 'ADJ', 'ADV', 'PROPN', 'PRON', 'AUX', 'DET', 'ADP', 'CCONJ'],
  ...['NUM', 'INTJ', 'PART', 'SCONJ', 'SYM', 'X'],
]
/** Below this a tag is shown as unsure. */
const UNSURE = 0.7

/** The parts of speech whose marks are shown now, in the reader and the specimen alike. */
export const shownTags = ref(new Set(['NOUN', 'VERB', 'ADJ', 'ADV', 'PROPN']))

export function toggleTag(tag: string) {
  const next = new Set(shownTags.value)
  if (!next.delete(tag)) next.add(tag)
  shownTags.value = next
}

/** The style of a word with this tag. */
export function tagStyle(tag: string) {
  const at = Math.max(0, ORDER.indexOf(tag))
  return { textDecoration: `underline ${LINES[at % LINES.length]} ${colour(at)} 1.5px`, textUnderlineOffset: '3px' }
}

/** What is known of a word's tag. */
export const tagTitle = (piece: Piece, names: Map<string, string>) =>
  [names.get(piece.form ?? '') ?? piece.form, piece.by, `${percent(piece.weight ?? 0, 0)} sure`]
    .filter(Boolean)
    .join(' · ')

export const isUnsure = (piece: Piece) => (piece.weight ?? 1) < UNSURE

/** Tagged pieces by where in the text they begin. */
export function byOffset(pieces: Piece[]): Map<number, Piece> {
  const found = new Map<number, Piece>()
  let at = 0
  for (const piece of pieces) {
    if (piece.kind === 'tag') found.set(at, piece)
    at += piece.text.length
  }
  return found
}
