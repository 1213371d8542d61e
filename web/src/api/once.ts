import { watch } from 'vue'

/**
 * Ask for something to be made where an answer says that it is not: once for each thing that is looked at.
 * `key` is what it is of.
 */
export function makeOnce(lacking: () => boolean, key: () => string, make: () => void) {
  const asked = new Set<string>()
  watch(
    () => (lacking() ? key() : undefined),
    (of) => {
      if (of === undefined || asked.has(of)) return
      asked.add(of)
      make()
    },
    { immediate: true },
  )
}
