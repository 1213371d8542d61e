import { onBeforeUnmount, onMounted, ref, useTemplateRef } from 'vue'

/** The width, as it changes, of the element with `ref="chart"`. */
export function useWidth(initial = 800) {
  const element = useTemplateRef<HTMLElement>('chart')
  const width = ref(initial)
  let observer: ResizeObserver | undefined
  onMounted(() => {
    observer = new ResizeObserver(([entry]) => (width.value = Math.max(120, entry.contentRect.width)))
    if (element.value) observer.observe(element.value)
  })
  onBeforeUnmount(() => observer?.disconnect())
  return width
}
