<script setup lang="ts">
import type { Piece } from '@/api/client'

import { colour } from './dyes'
import { isUnsure, shownTags, tagStyle, tagTitle } from './tags'

const props = defineProps<{ pieces: Piece[]; dye?: number; dyes?: number[]; names?: Map<string, string> }>()

const lineColour = (piece: Piece) => {
  if (piece.kind === 'topic') return colour(props.dyes?.[Number(piece.form)] ?? Number(piece.form))
  return props.dye === undefined ? 'var(--woad)' : colour(props.dye)
}
const title = (piece: Piece) => {
  if (piece.kind === 'removed') return piece.by ? `removed by ${piece.by}` : 'removed'
  if (piece.kind === 'changed') return `becomes ${piece.form}`
  return undefined
}
</script>

<template>
  <span class="book passage"
    ><template v-for="(piece, at) in pieces" :key="at"
      ><template v-if="piece.kind === 'plain' || piece.kind === 'kept'">{{ piece.text }}</template
      ><s v-else-if="piece.kind === 'removed'" :title="title(piece)">{{ piece.text }}</s
      ><ruby v-else-if="piece.kind === 'changed'" :title="title(piece)"
        >{{ piece.text }}<rt>{{ piece.form }}</rt></ruby
      ><span
        v-else-if="piece.kind === 'tag'"
        :class="{ unsure: isUnsure(piece) }"
        :style="shownTags.has(piece.form ?? '') ? tagStyle(piece.form ?? '') : undefined"
        :title="tagTitle(piece, names ?? new Map())"
        >{{ piece.text }}</span
      ><mark v-else :class="piece.kind" :style="{ '--line': lineColour(piece) }">{{ piece.text }}</mark></template
    ></span
  >
</template>

<style scoped>
.passage {
  white-space: pre-line;
  overflow-wrap: anywhere;
}
mark {
  background: none;
  color: inherit;
  border-bottom: 2.5px solid var(--line);
}
.unsure {
  background: var(--sunk);
}
mark.found {
  background: var(--weld-wash);
  border-color: var(--weld);
}
</style>
