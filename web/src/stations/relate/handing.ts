import { useWanted } from '@/api/strand'
import { say } from '@/frame/notices'

import { asOneWord, asTerm, type Pass } from './hand'

/** Hands words to Clean: as one word, or as one term where they stand in a row. */
export function useHanding() {
  const { wanted, change } = useWanted()
  async function hand(passes: (now: Pass[]) => Pass[], said: string) {
    const clean = wanted.value!.clean!
    if (await change({ clean: { ...clean, passes: passes(clean.passes!) } }))
      say(`Clean now takes ${said}. Rebuild (r) to see it.`)
  }
  return {
    takeAsOne: (terms: string[], said: string) => hand((now) => asOneWord(now, terms), said),
    takeAsTerm: (term: string) => hand((now) => asTerm(now, term), `“${term}” as one term`),
  }
}
