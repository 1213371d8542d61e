<script setup lang="ts">
import { onBeforeUnmount, onMounted, ref } from 'vue'

/** The drawing area of a chart; `width` follows the room there is. */
defineProps<{ height: number; label: string }>()
const width = defineModel<number>('width', { required: true })
const box = ref<HTMLElement>()
let observer: ResizeObserver | undefined
const fit = (room: number) => (width.value = Math.max(120, room))
onMounted(() => {
  if (!box.value) return
  fit(box.value.clientWidth) // before the first paint, so that nothing is wider than its room for a moment
  observer = new ResizeObserver(([entry]) => fit(entry.contentRect.width))
  observer.observe(box.value)
})
onBeforeUnmount(() => observer?.disconnect())
</script>

<template>
  <div ref="box" class="plot">
    <svg :width="width" :height="height" role="group" :aria-label="label"><slot /></svg>
  </div>
</template>

<style scoped>
.plot {
  min-width: 0;
}
svg {
  display: block;
  overflow: visible;
}
</style>
