import { computed } from 'vue'
import { useRoute } from 'vue-router'

import { useAddress } from './address'
import { useStations, type Room } from './station'

/** The rooms of the station in the address, the one that is open, and the way to another. */
export function useRooms() {
  const route = useRoute()
  const stations = useStations()
  const { get, set } = useAddress()
  const rooms = computed<Room[]>(() => stations.find((each) => each.name === route.name)?.rooms ?? [])
  const open = computed(() => rooms.value.find((each) => each.name === get('part')) ?? rooms.value[0])
  const go = (name: string) => set({ part: name === rooms.value[0]?.name ? '' : name })
  /** The room so many places on, round and round. */
  function step(by: number) {
    const at = rooms.value.indexOf(open.value)
    const next = rooms.value[(at + by + rooms.value.length) % rooms.value.length]
    if (next) go(next.name)
  }
  return { rooms, open, go, step }
}
