import { computed } from 'vue'

import { useTopics } from '@/api/topics'
import { useAddress } from '@/frame/address'

/** So many topics are shown until others are chosen. */
const FIRST = 3

/** The topics in the address, or the first ones that are not set aside. */
export function useChosenTopics() {
  const { topics } = useTopics()
  const { list, set } = useAddress()
  const chosen = computed(() => {
    const given = list('t')
      .map(Number)
      .filter((at) => topics.value[at])
    const kept = topics.value.filter((topic) => !topic.set_aside).map((topic) => topic.topic)
    return given.length ? given : kept.slice(0, FIRST)
  })
  function toggle(topic: number) {
    const next = chosen.value.includes(topic) ? chosen.value.filter((each) => each !== topic) : [...chosen.value, topic]
    if (next.length) set({ t: next.map(String) })
  }
  return { chosen, toggle, all: () => set({ t: topics.value.map((each) => String(each.topic)) }) }
}
