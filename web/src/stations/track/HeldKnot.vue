<script setup lang="ts">
import type { Verdict } from '@/api/holds'

/** How a statement came out, as a knot on a thread: whole, half drawn, open, crossed, or none. */
defineProps<{ verdict: Verdict | null }>()
</script>

<template>
  <svg width="22" height="18" viewBox="-11 -9 22 18" aria-hidden="true" :class="verdict ?? 'none'">
    <template v-if="verdict === 'lost'">
      <path d="M-11 0h5M6 0h5" class="thread" />
      <path d="M-6 0q2 -1 3 -4M6 0q-2 1 -3 4" class="thread" />
    </template>
    <template v-else-if="verdict">
      <path d="M-11 0h22" class="thread" />
      <circle r="6" class="ground" />
      <circle v-if="verdict === 'holds'" r="6" class="full" />
      <path v-else-if="verdict === 'leans'" d="M0 -6a6 6 0 0 0 0 12z" class="full" />
      <path v-else-if="verdict === 'reversed'" d="M-4 -4L4 4M-4 4L4 -4" class="cross" />
      <circle v-else-if="verdict === 'untold'" r="1.6" class="full" />
      <circle r="6" class="ring" />
    </template>
    <circle v-else r="1.6" class="faint" />
  </svg>
</template>

<style scoped>
.thread {
  fill: none;
  stroke: var(--soft);
  stroke-width: 1.4;
}
.ground {
  fill: var(--paper);
}
.ring {
  fill: none;
  stroke: var(--woad);
  stroke-width: 1.8;
}
.full {
  fill: var(--woad);
}
.turns .ring,
.reversed .ring,
.cross {
  stroke: var(--madder);
}
.cross {
  stroke-width: 1.8;
}
.untold .ring {
  stroke: var(--soft);
  stroke-dasharray: 2 2;
}
.untold .full,
.faint {
  fill: var(--soft);
}
.lost .thread {
  stroke: var(--madder);
}
</style>
