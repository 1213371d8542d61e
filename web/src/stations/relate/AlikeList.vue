<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { decimal } from '@/marks/format'

/** Documents near something, each with a thread as long as its cosine. */
defineProps<{ rows: Schemas['AlikeDocument'][]; current?: number }>()
defineEmits<{ pick: [number] }>()
</script>

<template>
  <ol>
    <li v-for="each in rows" :key="each.document">
      <button class="plain" :aria-pressed="current === each.document" @click="$emit('pick', each.document)">
        <span class="cut"
          ><b>{{ each.name }}</b> <span class="soft small">{{ each.brief }}</span></span
        >
        <span class="numbers small">{{ decimal(each.cosine) }}</span>
        <span class="thread" aria-hidden="true"><i :style="{ width: `${Math.max(0, 100 * each.cosine)}%` }" /></span>
        <span class="soft small cut">{{ each.shares.length ? each.shares.join(', ') : '' }}</span>
      </button>
    </li>
  </ol>
</template>

<style scoped>
ol {
  list-style: none;
  margin: 0.3rem 0 0;
  padding: 0;
}
button {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  width: 100%;
  padding: 0.2rem 0.4rem 0.3rem;
  border-radius: 4px;
}
button:hover,
button[aria-pressed='true'] {
  background: var(--sunk);
}
.thread {
  grid-column: 1 / -1;
}
.thread i {
  display: block;
  border-top: 2px solid var(--woad);
}
.thread + .cut {
  grid-column: 1 / -1;
}
</style>
