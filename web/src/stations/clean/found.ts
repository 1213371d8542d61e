import { ref } from 'vue'

/** What is found in the texts: its words, and all ways in which it is written with their tokens. */
export interface Found {
  words: string
  tokens: number
  documents: number
  variants: { words: string; tokens: number }[]
}

/** How else it is written. */
export const otherwise = (row: Pick<Found, 'words' | 'variants'>) =>
  row.variants
    .filter((each) => each.words !== row.words)
    .map((each) => `${each.words} ${each.tokens}`)
    .join(', ')

/** The query of an address, of what is given. */
export const addressOf = (asked: Record<string, unknown>) =>
  new URLSearchParams(
    Object.entries(asked)
      .filter(([, value]) => value !== undefined)
      .map(([name, value]) => [name, String(value)]),
  ).toString()

/** What was done last, in words; what fails is said too. */
export function useSaid() {
  const said = ref('')
  async function attempt(what: () => Promise<string>) {
    try {
      said.value = await what()
    } catch (problem) {
      said.value = (problem as Error).message
    }
  }
  return { said, attempt }
}
