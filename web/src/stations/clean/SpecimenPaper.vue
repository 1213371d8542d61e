<script setup lang="ts">
import { computed, ref, watch } from 'vue'

import type { Piece, Schemas } from '@/api/client'
import { isUnsure, shownTags, tagStyle, tagTitle } from '@/marks/tags'

/** A document with what became of each token; the arrow keys go from one to the next. */
const props = defineProps<{
  pieces: Schemas['TokenSegment'][]
  called: string
  rightToLeft: boolean
  differing?: Set<number>
  tags?: Map<number, Piece>
  names?: Map<string, string>
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
/** The tag of each piece, by where it begins in the text. */
const tagged = computed(() => {
  let offset = 0
  return props.pieces.map((piece) => {
    const found = props.tags?.get(offset)
    offset += piece.text.length
    return found
  })
})
function look(place: number) {
  const tag = tagged.value[place]
  return {
    class: { now: at.value === place, other: props.differing?.has(place), unsure: tag && isUnsure(tag) },
    title: tag && tagTitle(tag, props.names ?? new Map()),
  }
}
/** The line of a word's tag, on a span of its own, so that what is struck out stays so. */
function line(place: number) {
  const tag = tagged.value[place]?.form
  return tag && shownTags.value.has(tag) ? tagStyle(tag) : undefined
}
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
      ><s v-else-if="piece.kind === 'removed'" :data-at="place" v-bind="look(place)"
        ><span :style="line(place)">{{ piece.text }}</span></s
      ><ruby v-else-if="piece.kind === 'changed'" :data-at="place" v-bind="look(place)"
        ><span :style="line(place)">{{ piece.text }}</span
        ><rt>{{ piece.form }}</rt></ruby
      ><span v-else :data-at="place" v-bind="look(place)"
        ><span :style="line(place)">{{ piece.text }}</span></span
      ></template
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
.unsure {
  background: var(--sunk);
}
.other {
  background: var(--weld-wash);
  border-bottom: 2.5px solid var(--weld);
}
</style>
