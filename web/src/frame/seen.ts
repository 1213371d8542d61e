import { onBeforeUnmount, ref, watch, type Ref } from 'vue'

/** Whether an element has come into view: what costs much is asked for only then. */
export function useSeen(element: Ref<HTMLElement | undefined>) {
  const seen = ref(false)
  const observer = new IntersectionObserver((entries) => {
    if (entries.some((each) => each.isIntersecting)) {
      seen.value = true
      observer.disconnect()
    }
  })
  watch(element, (found) => found && !seen.value && observer.observe(found), { flush: 'post' })
  onBeforeUnmount(() => observer.disconnect())
  return seen
}
