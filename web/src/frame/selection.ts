import { computed } from 'vue'
import { useRoute, useRouter, type LocationQueryRaw } from 'vue-router'

/** What is selected: the same fields as the server's `Selection`. */
export interface Selection {
  term?: string
  topic?: number
  field?: string
  value?: string
  period?: 'month' | 'quarter' | 'year'
  at?: string
  removed_by?: string
  flag?: string
  words_from?: number
  words_to?: number
}
type Raw = Record<string, string | number>

/** A selection as one parameter of the address. */
export function writeSelection(selection: Selection): string {
  const parts = Object.entries(selection).filter(([, value]) => value !== null && value !== undefined)
  return new URLSearchParams(parts.map(([key, value]) => [key, String(value)])).toString()
}

/** The selection that `writeSelection` wrote. */
export function readSelection(text: string): Selection {
  const numbers = new Set(['topic', 'words_from', 'words_to'])
  const raw: Raw = {}
  for (const [key, value] of new URLSearchParams(text)) raw[key] = numbers.has(key) ? Number(value) : value
  return raw as unknown as Selection
}

/** Parts of the view that stand in the address, so that it always reproduces the view. */
export function useAddress() {
  const route = useRoute()
  const router = useRouter()
  const get = (name: string, otherwise = '') => {
    const value = route.query[name]
    return typeof value === 'string' ? value : otherwise
  }
  const list = (name: string) =>
    ([] as unknown[]).concat(route.query[name] ?? []).filter((each): each is string => typeof each === 'string')
  const set = (changes: LocationQueryRaw, push = false) => {
    const query: LocationQueryRaw = { ...route.query, ...changes }
    for (const [key, value] of Object.entries(query))
      if (value === '' || value === undefined || value === null) delete query[key]
    return push ? router.push({ query }) : router.replace({ query })
  }
  return { get, list, set }
}

/** What is selected, wherever it was selected: the evidence follows it. */
export function useSelection() {
  const { get, set } = useAddress()
  const text = computed(() => get('ev'))
  return {
    text,
    selection: computed(() => (text.value ? readSelection(text.value) : null)),
    select: (selection: Selection) => set({ ev: writeSelection(selection), evp: '' }),
    clear: () => set({ ev: '' }),
    isSelected: (selection: Selection) => text.value === writeSelection(selection),
    /** Open a document; `place` is where it stands in the evidence, for next and previous. */
    read: (document: number, place?: number) =>
      set({ read: String(document), at: place === undefined ? '' : String(place) }, true),
  }
}
