import { computed } from 'vue'

import { usePasses, type Pass } from './passes'

/** A line of what is given by hand: a word, and the form it has. */
const line = (word: string, form: string) => `${word} = ${form}`
const wordOf = (given: string) => given.slice(0, given.lastIndexOf('=')).trim().toLowerCase()

/** What is given by hand, with some words having other forms from now on. */
export function withForms(given: string[], forms: Record<string, string>): string[] {
  const taken = new Set(Object.keys(forms).map((word) => word.toLowerCase()))
  return [
    ...given.filter((each) => !taken.has(wordOf(each))),
    ...Object.entries(forms).map(([word, form]) => line(word, form)),
  ]
}

type WordForms = Pass & { given?: string[] }

/** Families taken apart and words moved by hand, in the pass Word forms. */
export function useGiven() {
  const passes = usePasses()
  const at = computed(() => {
    const on = passes.list.value.findIndex((each) => each.kind === 'word-forms' && each.on)
    return on >= 0 ? on : passes.list.value.findIndex((each) => each.kind === 'word-forms')
  })
  const pass = computed(() => passes.list.value[at.value] as WordForms | undefined)
  const set = (part: object) => pass.value && passes.set(at.value, part)
  const put = (forms: Record<string, string>) => set({ given: withForms(pass.value?.given ?? [], forms) })
  return {
    pass,
    set,
    /** Let every one of some words stand alone. */
    apart: (words: string[]) => put(Object.fromEntries(words.map((word) => [word, word]))),
    /** Bring a word to the form that another family has. */
    move: (word: string, form: string) => put({ [word]: form }),
  }
}
