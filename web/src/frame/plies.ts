import type { Schemas, Strand } from '@/api/client'
import { count, counted } from '@/marks/format'

type Ply = Schemas['Ply']
type Settings = Record<string, never>

const NAMES: Record<string, string> = {
  markup: 'markup',
  addresses: 'addresses',
  case: 'case',
  numbers: 'numbers',
  punctuation: 'punctuation',
  'stop-words': 'stop words',
  'short-words': 'short words',
  'word-forms': 'word forms',
  'domain-words': 'domain words',
  tokens: 'tokens',
}

/** A pass's name for people. */
export const passName = (kind: string) => NAMES[kind] ?? kind
export const passTitle = (kind: string) => passName(kind).replace(/^./, (first) => first.toUpperCase())

const describers: Record<string, (settings: Settings, summary: Settings) => [string, string]> = {
  cleaning: (settings, summary) => {
    const passes = settings.passes as { kind: string; on: boolean; words?: string[] }[]
    const stems = passes.some((each) => each.kind === 'word-forms' && each.on)
    return [stems ? 'stems' : 'words', `${count(summary.tokens)} tokens`]
  },
  matrix: (settings, summary) => [
    Number(settings.longest) > 1 ? `1–${settings.longest}-grams, counts` : 'words, counts',
    `${count(summary.terms)} terms`,
  ],
  fit: (settings) => [`LDA ${settings.topics}`, `seed ${settings.seed}`],
}

/** What a ply of the strand bar says: its name and its size. */
export function describePly(strand: Strand, ply: Ply): [string, string] {
  if (ply.step === 'corpus') return [strand.name, counted(Number(ply.summary.documents), 'document')]
  return describers[ply.step](ply.settings as Settings, ply.summary as Settings)
}

/** A setting's value for people. */
export function settingText(value: unknown): string {
  if (value === null || value === undefined) return 'not set'
  if (value === true) return 'on'
  if (value === false) return 'off'
  if (Array.isArray(value)) return value.length ? value.join(', ') : 'none'
  return String(value)
}
