import type { Schemas } from '@/api/client'

export type Settings = Schemas['MatrixSettings']
export type Spectrum = [number, number][]

/** Terms in so many documents, from `from` up to but not including `to`. */
export interface Bin {
  from: number
  to: number
  terms: number
}

/** A spectrum in bins that grow with the number of documents: 1, 2, 3, then wider and wider. */
export function bins(spectrum: Spectrum, documents: number, wanted = 40): Bin[] {
  const edges = [1]
  const ratio = Math.pow(Math.max(2, documents + 1), 1 / wanted)
  while (edges[edges.length - 1] <= documents) {
    const last = edges[edges.length - 1]
    edges.push(Math.max(last + 1, Math.round(last * ratio)))
  }
  const found = edges.slice(0, -1).map((from, at) => ({ from, to: edges[at + 1], terms: 0 }))
  let bin = 0
  for (const [df, terms] of spectrum) {
    while (bin < found.length - 1 && df >= found[bin].to) bin++
    if (found.length) found[bin].terms += terms
  }
  return found
}

/** The fewest and the most documents that a term may be in: the stricter of number and share. */
export function bounds(settings: Settings, of: number): { least: number; most: number } {
  const share = (part: number) => Number((part * of).toFixed(6))
  const least = Math.max(1, settings.min_documents ?? 1, Math.ceil(share(settings.min_share ?? 0)))
  const most = Math.floor(share(settings.max_share ?? 1))
  return { least, most: Math.min(most, settings.max_documents ?? most) }
}

/** The settings with the least number of documents said in one of its three ways. */
export const atLeast = {
  documents: (settings: Settings, value: number): Settings => ({
    ...settings,
    min_documents: Math.max(1, Math.round(value) || 1),
    min_share: 0,
  }),
  share: (settings: Settings, share: number): Settings => ({
    ...settings,
    min_documents: 1,
    min_share: Math.min(0.999999, Math.max(0, share || 0)),
  }),
  /** The sparsity limit: absent from at most this share. */
  absent: (settings: Settings, share: number): Settings => atLeast.share(settings, tidy(1 - share)),
}

/** The settings with the most documents that a term may be in, as a number or as a share. */
export const atMost = {
  documents: (settings: Settings, value: number, of: number): Settings =>
    value >= of
      ? { ...settings, max_documents: null, max_share: 1 }
      : { ...settings, max_documents: Math.max(1, Math.round(value) || 1), max_share: 1 },
  share: (settings: Settings, share: number): Settings => ({
    ...settings,
    max_documents: null,
    max_share: Math.min(1, Math.max(0.000001, share || 1)),
  }),
}

/** A share without the dust of a computer's arithmetic. */
export const tidy = (share: number) => Math.round(share * 1e9) / 1e9

/** A share as a number of percent that can be typed: as many digits as a document makes a difference. */
export function typedPercent(share: number, documents: number): number {
  const digits = Math.max(0, Math.ceil(Math.log10(Math.max(1, documents))) - 1)
  return Number((100 * share).toFixed(digits))
}

/** The settings with a term pinned to stay, to go, or not at all. */
export function pinned(settings: Settings, term: string, pin: 'stay' | 'go' | ''): Settings {
  const without = (list?: string[]) => (list ?? []).filter((each) => each !== term)
  const stay = without(settings.stay)
  const go = without(settings.go)
  if (pin === 'stay') stay.push(term)
  if (pin === 'go') go.push(term)
  return { ...settings, stay, go }
}
