<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'

import type { Schemas, Topic } from '@/api/client'
import Swatch from '@/marks/Swatch.vue'

/** The name of a topic, to be typed; arrow keys go through the candidates. */
const props = defineProps<{ topic: Topic; candidates: Schemas['LabelCandidateSeen'][] }>()
const emit = defineEmits<{ keep: [string]; save: [string] }>()
const box = ref<HTMLInputElement>()
const label = ref('')
watch(
  () => [props.topic.topic, props.topic.label],
  () => (label.value = props.topic.label),
  { immediate: true },
)
const offered = computed(() => [
  ...(props.topic.label ? [props.topic.label] : []),
  ...props.candidates.map((each) => each.words),
  ...(props.candidates.length ? [] : props.topic.candidates),
])
function through(by: number) {
  const all = offered.value
  if (!all.length) return
  const at = all.indexOf(label.value)
  label.value = all[(at + by + all.length) % all.length]
}
async function start() {
  await nextTick()
  box.value?.focus()
  box.value?.select()
}
const leave = () => box.value?.blur()
function change() {
  if (label.value.trim() !== props.topic.label) emit('save', label.value)
}
defineExpose({ start, leave })
</script>

<template>
  <div>
    <div class="row name">
      <Swatch :dye="topic.dye" :size="30" />
      <input
        ref="box"
        v-model="label"
        class="title"
        :class="{ suggested: !topic.confirmed }"
        maxlength="200"
        :placeholder="offered[0] ?? topic.title"
        aria-label="Label of the topic"
        @keydown.enter.prevent="emit('keep', label.trim() ? label : (offered[0] ?? ''))"
        @keydown.down.prevent="through(1)"
        @keydown.up.prevent="through(-1)"
        @keydown.esc="leave()"
        @change="change" />
    </div>
    <p class="soft small keys">
      topic {{ topic.topic + 1 }}{{ topic.marked_by ? ` · marked by ${topic.marked_by}` : ''
      }}{{ topic.family ? ` · ${topic.family}` : '' }} · <kbd>l</kbd> label · <kbd>↓</kbd> candidates ·
      <kbd>enter</kbd> keep, next · <kbd>esc</kbd> leave · <kbd>n</kbd> note · <kbd>s</kbd> skip · <kbd>t</kbd> later
    </p>
  </div>
</template>

<style scoped>
.title {
  font-family: var(--heading);
  font-size: 1.7rem;
  font-weight: 650;
  border: 0;
  border-bottom: 2px solid var(--woad);
  background: none;
  color: var(--ink);
  flex: 1;
  min-width: 8rem;
  padding: 0;
}
.keys {
  margin: 0.3rem 0 0;
}
.title.suggested {
  font-style: italic;
}
.title::placeholder {
  color: var(--soft);
  font-style: italic;
  opacity: 0.8;
}
</style>
