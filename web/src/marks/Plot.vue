<script setup lang="ts">
import { onBeforeUnmount, onMounted, ref } from 'vue'

/** The drawing area of a chart; `width` follows the room there is. */
defineProps<{ height: number; label: string }>()
const width = defineModel<number>('width', { required: true })
const box = ref<HTMLElement>()
let observer: ResizeObserver | undefined
onMounted(() => {
  observer = new ResizeObserver(([entry]) => (width.value = Math.max(120, entry.contentRect.width)))
  if (box.value) observer.observe(box.value)
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
