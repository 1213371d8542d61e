<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { useEvidence } from '@/frame/evidence'
import { count, counted } from '@/marks/format'

/** Terms that fall or come back, most frequent first; each can be pinned. */
defineProps<{ title: string; terms: Schemas['MovingTerm'][]; total: number; tokens: number; pin: 'stay' | 'go' }>()
defineEmits<{ pin: [string, 'stay' | 'go' | ''] }>()
const { select } = useEvidence()
</script>

<template>
  <section :aria-label="title">
    <h3>
      {{ title }} <span class="soft small">{{ counted(total, 'term') }}, {{ counted(tokens, 'token') }}</span>
    </h3>
    <ul v-if="terms.length">
      <li v-for="each in terms" :key="each.term">
        <button
          class="plain book cut"
          :title="`${each.display}: ${counted(each.count, 'time')} in ${counted(each.documents, 'document')}`"
          @click="select({ word: each.display })">
          {{ each.display }}
        </button>
        <span class="soft numbers small">{{ count(each.count) }}× in {{ count(each.documents) }}</span>
        <button
          class="plain small pin"
          :aria-label="each.pinned ? `Unpin ${each.display}` : `Pin ${each.display} to ${pin}`"
          @click="$emit('pin', each.term, each.pinned ? '' : pin)">
          {{ each.pinned ? 'unpin' : pin }}
        </button>
      </li>
    </ul>
    <p v-else class="soft small">none</p>
    <p v-if="total > terms.length" class="soft small">and {{ count(total - terms.length) }} that are rarer</p>
  </section>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0.2rem 0 0;
  padding: 0;
  max-height: 15rem;
  overflow: auto;
}
li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto 3.2rem;
  gap: 0.6rem;
  align-items: center;
  border-bottom: 1px solid var(--hairline);
  min-height: 26px;
}
.pin {
  color: var(--woad);
  min-height: 24px;
  line-height: 24px;
  text-align: right;
}
.pin:hover {
  text-decoration: underline;
}
</style>
