<script setup lang="ts">
import { onBeforeUnmount, onMounted, ref, watch } from 'vue'

import { count } from '@/marks/format'

/** An end of what is shown of a long text: what follows is asked for when this comes into view. */
const props = defineProps<{ edge: 'above' | 'below'; part: number; parts: number; loading: boolean }>()
const emit = defineEmits<{ more: []; go: [number] }>()
const place = ref<HTMLElement>()
const inView = ref(false)
let watcher: IntersectionObserver | undefined
watch([inView, () => props.loading], ([seen, loading]) => {
  if (seen && !loading) emit('more')
})
onMounted(() => {
  watcher = new IntersectionObserver((seen) => {
    inView.value = seen.some((each) => each.isIntersecting)
  })
  if (place.value) watcher.observe(place.value)
})
onBeforeUnmount(() => watcher?.disconnect())
</script>

<template>
  <div ref="place" class="edge soft small row">
    <button class="plain link" @click="emit('more')">
      {{ edge === 'above' ? 'what stands before' : 'what follows' }}
    </button>
    <span>part {{ count(part + 1) }} of {{ count(parts) }}</span>
    <label class="row">
      go to
      <input
        type="number"
        min="1"
        :max="parts"
        :value="part + 1"
        :aria-label="`Go to part, ${edge}`"
        @change="emit('go', Number(($event.target as HTMLInputElement).value) - 1)" />
    </label>
  </div>
</template>

<style scoped>
.edge {
  gap: 0.8rem;
  padding: 0.4rem 0;
  font-family: var(--plain, inherit);
}
input {
  width: 5.5rem;
}
</style>
