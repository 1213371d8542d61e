<script setup lang="ts">
import { computed, ref, watch } from 'vue'

import type { Schemas } from '@/api/client'

/** A document with what became of each token; the arrow keys go from one to the next. */
const props = defineProps<{
  pieces: Schemas['TokenSegment'][]
  called: string
  rightToLeft: boolean
  differing?: Set<number>
}>()
const emit = defineEmits<{ look: [number | null]; choose: [number] }>()
const at = ref(-1)
const paper = ref<HTMLElement>()
const isToken = (piece: Schemas['TokenSegment']) => piece.kind !== 'plain'
const tokens = computed(() => props.pieces.flatMap((piece, place) => (isToken(piece) ? [place] : [])))
watch(
  () => props.pieces,
  () => go(-1),
)
function go(place: number) {
  at.value = place
  emit('look', place < 0 ? null : place)
  if (place >= 0) paper.value?.querySelector(`[data-at="${place}"]`)?.scrollIntoView({ block: 'nearest' })
}
function step(by: number) {
  const now = tokens.value.indexOf(at.value)
  const next = tokens.value[Math.min(Math.max(now + by, 0), tokens.value.length - 1)]
  if (next !== undefined) go(next)
}
/** The place of the token that a pointer is over. */
const under = (event: Event) => {
  const found = (event.target as HTMLElement).closest('[data-at]')?.getAttribute('data-at')
  return found ? Number(found) : null
}
</script>

<template>
  <div
    ref="paper"
    class="paper book"
    tabindex="0"
    role="region"
    :aria-label="called"
    :dir="rightToLeft ? 'rtl' : 'ltr'"
    @keydown.right.prevent="step(rightToLeft ? -1 : 1)"
    @keydown.left.prevent="step(rightToLeft ? 1 : -1)"
    @keydown.enter.prevent="at >= 0 && emit('choose', at)"
    @mouseover="emit('look', under($event) ?? (at < 0 ? null : at))"
    @mouseleave="emit('look', at < 0 ? null : at)"
    @click="under($event) !== null && go(under($event)!)">
    <template v-for="(piece, place) in pieces" :key="place"
      ><template v-if="!isToken(piece)">{{ piece.text }}</template
      ><s
        v-else-if="piece.kind === 'removed'"
        :data-at="place"
        :class="{ now: at === place, other: differing?.has(place) }"
        >{{ piece.text }}</s
      ><ruby
        v-else-if="piece.kind === 'changed'"
        :data-at="place"
        :class="{ now: at === place, other: differing?.has(place) }"
        >{{ piece.text }}<rt>{{ piece.form }}</rt></ruby
      ><span v-else :data-at="place" :class="{ now: at === place, other: differing?.has(place) }">{{
        piece.text
      }}</span></template
    >
    <span v-if="!pieces.length" class="soft">This document is empty.</span>
  </div>
</template>

<style scoped>
.paper {
  background: var(--raised);
  border: 1px solid var(--hairline);
  padding: 0.7rem 1.1rem 1.1rem;
  font-size: 1.13rem;
  line-height: 2.15;
  max-height: 40vh;
  overflow: auto;
  white-space: pre-line;
  overflow-wrap: anywhere;
}
.now {
  outline: 2px solid var(--woad);
  outline-offset: 1px;
  border-radius: 3px;
}
.other {
  background: var(--weld-wash);
  border-bottom: 2.5px solid var(--weld);
}
</style>
