import { computed } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { strandPath, useStrand, useStrandQuery, useWanted } from '@/api/strand'
import { isAsked, type Field } from '@/frame/settings'

export type Pass = NonNullable<Schemas['CleanSettings']['passes']>[number]

/** A list with one of its members at another place. */
export function moved<T>(list: T[], from: number, to: number): T[] {
  if (to < 0 || to >= list.length || from === to) return list
  const next = [...list]
  next.splice(to, 0, ...next.splice(from, 1))
  return next
}

/** The wanted passes with what the server says of them, the kinds that can be added, and their changes. */
export function usePasses() {
  const { strand } = useStrand()
  const { wanted, change } = useWanted()
  const query = useStrandQuery(
    'passes',
    () => strand.value?.wanted.clean,
    (id) => ask(client.GET('/api/strands/{strand_id}/passes', { params: strandPath(id) })),
  )
  const idle = useStrandQuery(
    'idle passes',
    () => strand.value?.wanted.clean,
    (id) => ask(client.GET('/api/strands/{strand_id}/idle-passes', { params: strandPath(id) })),
  )
  const idles = computed(() => new Map(idle.data.value?.map((each) => [each.key, each])))
  const limits = computed(() => query.data.value?.limits.filter((each) => each.field || each.values.length > 1) ?? [])
  const offered = computed(() => query.data.value?.offered ?? [])
  const kinds = computed(() => new Map(offered.value.map((kind) => [kind.kind, kind])))
  const words = computed(() => new Map(query.data.value?.wanted.map((each) => [each.key, each])))
  const list = computed(() => (wanted.value?.clean?.passes ?? []) as Pass[])
  const fields = (pass: Pass) => Object.entries((kinds.value.get(pass.kind)?.fields ?? {}) as Record<string, Field>)
  function setAll(next: Pass[]) {
    const clean = wanted.value?.clean
    if (clean && next !== list.value) change({ clean: { ...clean, passes: next } })
  }
  return {
    list,
    offered,
    fields,
    /** Until the server has said it, its kind. */
    title: (pass: Pass) => kinds.value.get(pass.kind)?.title ?? pass.kind.replaceAll('-', ' '),
    said: (pass: Pass) => words.value.get(pass.key ?? '')?.said ?? '',
    hint: (pass: Pass) => words.value.get(pass.key ?? '')?.hint ?? '',
    set: (at: number, part: object) =>
      setAll(list.value.map((each, index) => (index === at ? ({ ...each, ...part } as Pass) : each))),
    move: (from: number, to: number) => setAll(moved(list.value, from, to)),
    /** Put a pass at the end; answers with its key. */
    add: (kind: string) => {
      const taken = new Set(list.value.map((each) => each.key))
      let key = kind
      for (let number = 2; taken.has(key); number++) key = `${kind}-${number}`
      setAll([...list.value, { kind, key, on: true } as Pass])
      return key
    },
    /** Put a pass at the beginning, with some of its settings. */
    addFirst: (kind: string, part: object) => setAll([{ kind, on: true, ...part } as Pass, ...list.value]),
    limits,
    /** Put a pass as it fits the corpus in the place of the one with its key, or at the beginning. */
    take: (settings: object) => {
      const pass = settings as Pass
      const there = list.value.some((each) => each.key === pass.key)
      setAll(there ? list.value.map((each) => (each.key === pass.key ? pass : each)) : [pass, ...list.value])
    },
    /** What to know of a pass that finds nothing to do where it stands. */
    idle: (pass: Pass) => idles.value.get(pass.key ?? ''),
    /** The settings to ask for now: some matter only with a value of another. */
    shown: (pass: Pass) =>
      fields(pass).filter(([, field]) => isAsked(field, pass as unknown as Record<string, unknown>)),
    /** Put a word on the keep list that stands before a pass; a new one where there is none. */
    keepBefore: (at: number, word: string) => {
      const listed = list.value.findIndex((each, index) => index < at && each.kind === 'keep-list')
      const found = list.value[listed] as (Pass & { words?: string[] }) | undefined
      if (found) {
        const words = [...(found.words ?? []), word]
        setAll(list.value.map((each, index) => (index === listed ? ({ ...each, words, on: true } as Pass) : each)))
      } else
        setAll([
          ...list.value.slice(0, at),
          { kind: 'keep-list', on: true, words: [word] } as unknown as Pass,
          ...list.value.slice(at),
        ])
    },
    remove: (at: number) => setAll(list.value.filter((_, index) => index !== at)),
  }
}
