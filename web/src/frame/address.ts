import { useRoute, useRouter, type LocationQueryRaw } from 'vue-router'

/** The query that the last change asked for, until the router has taken it over. */
let ahead: LocationQueryRaw | null = null

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
    const query: LocationQueryRaw = { ...(ahead ?? route.query), ...changes }
    for (const [key, value] of Object.entries(query))
      if (value === '' || value === undefined || value === null) delete query[key]
    ahead = query
    return (push ? router.push({ query }) : router.replace({ query })).finally(() => {
      if (ahead === query) ahead = null
    })
  }
  return { get, list, set }
}
