import { computed, toRaw, type Ref } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { strandPath, useStrandQuery } from '@/api/strand'

export type MapOf = Schemas['MapScreen']['of']
/** The result that each map is, and what it is laid out from. */
export const MAP_STEPS: Record<MapOf, { step: string; of: string; title: string }> = {
  documents: { step: 'document_map', of: 'document_vectors', title: 'documents, by their vectors' },
  topics: { step: 'topic_map', of: 'fit', title: 'documents, by their topics' },
  words: { step: 'word_map', of: 'word_vectors', title: 'words, by their vectors' },
}

/** A map as it was made, with its areas and what its points are told apart by. */
export function useMap(of: MapOf, identity: Ref<string | null | undefined>, by: Ref<string>) {
  const made = () => !!identity.value
  const path = (id: number) => ({ path: { ...strandPath(id).path, of } })
  const query = useStrandQuery(
    'map',
    () => [of, identity.value],
    (id) => ask(client.GET('/api/strands/{strand_id}/relate/maps/{of}', { params: path(id) })),
    made,
  )
  const areas = useStrandQuery(
    'areas of a map',
    () => [of, identity.value],
    (id) => ask(client.GET('/api/strands/{strand_id}/relate/maps/{of}/areas', { params: path(id) })),
    made,
  )
  // As they came: to ask a watched list for each of 100 000 places takes a second.
  const map = computed(() => (made() && query.data.value?.of === of ? toRaw(query.data.value) : undefined))
  const points = computed(() => ({
    x: Float64Array.from(map.value?.x ?? []),
    y: Float64Array.from(map.value?.y ?? []),
    items: Int32Array.from(map.value?.items ?? []),
  }))
  const told = computed(() => (map.value?.colours.includes(by.value) ? by.value : (map.value?.colours[0] ?? '')))
  const colours = useStrandQuery(
    'colours of a map',
    () => [of, identity.value, told.value],
    (id) =>
      ask(
        client.GET('/api/strands/{strand_id}/relate/maps/{of}/colours', {
          params: { ...path(id), query: { by: told.value } },
        }),
      ),
    () => made() && !!told.value,
  )
  return {
    query,
    map,
    points,
    areas: computed(() => (made() ? areas.data.value : undefined)),
    told,
    colours: computed(() =>
      told.value && colours.data.value?.by === told.value && colours.data.value.codes.length === map.value?.x.length
        ? toRaw(colours.data.value)
        : undefined,
    ),
  }
}
