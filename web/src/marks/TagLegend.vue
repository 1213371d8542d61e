<script setup lang="ts">
import { shownTags, tagStyle, toggleTag } from './tags'

/** The parts of speech in a text; each switches its marks on and off. */
defineProps<{ tags: { tag: string; name: string }[] }>()
</script>

<template>
  <div class="row wrap small legend" role="group" aria-label="Parts of speech marked">
    <button
      v-for="{ tag, name } in tags.filter((each) => each.tag !== 'PUNCT')"
      :key="tag"
      class="plain"
      :aria-pressed="shownTags.has(tag)"
      :class="{ off: !shownTags.has(tag) }"
      @click="toggleTag(tag)">
      <span :style="shownTags.has(tag) ? tagStyle(tag) : {}">{{ name }}</span>
    </button>
  </div>
</template>

<style scoped>
.legend {
  gap: 0.2rem 0.9rem;
}
button {
  min-height: 24px;
}
.off {
  color: var(--soft);
}
</style>
