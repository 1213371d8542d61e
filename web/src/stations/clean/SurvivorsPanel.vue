<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '@/api/client'
import { useStrandId } from '@/api/strand'
import { useEvidence } from '@/frame/evidence'
import { count } from '@/marks/format'

const id = useStrandId()
const props = defineProps<{ made: boolean; found: Schemas['Survivors']; stale: boolean; total: number }>()
const { select, isSelected } = useEvidence()
const first = computed(() => props.found.survivals[0].tokens)
const last = computed(() => props.found.survivals.at(-1)!)
const share = (tokens: number) => `${(100 * tokens) / Math.max(first.value, 1)}%`
</script>

<template>
  <div>
    <h2>What survives, {{ found.sample ? 'sample' : 'whole corpus' }}</h2>
    <p class="soft small">
      tokens left after each pass{{ found.sample ? `, in ${count(found.sample)} documents of ${count(total)}` : '' }}
    </p>
    <button
      v-for="(row, at) in found.survivals"
      :key="row.key"
      class="plain survival"
      :class="{ off: !row.on, selected: isSelected({ removed_by: row.key }) }"
      :disabled="!row.removed || stale"
      :title="`${count(row.types)} distinct words left, ${count(row.emptied)} documents emptied`"
      @click="select({ removed_by: row.key })">
      <span class="cut">{{ row.title.toLowerCase() }}</span>
      <span class="track">
        <i :style="{ width: share(row.tokens) }" />
        <i v-if="at" class="lost" :style="{ width: share(row.removed) }" />
      </span>
      <span class="numbers">{{ count(row.tokens) }}</span>
    </button>
    <p class="soft small after">
      {{ count(last.tokens) }} tokens and {{ count(last.types) }} distinct forms are left, of {{ count(first) }} and
      {{ count(found.survivals[0].types)
      }}<template v-if="last.emptied">; {{ count(last.emptied) }} documents keep none</template>.
    </p>
    <p v-if="made && !stale" class="small">
      The cleaned text to save:
      <a :href="`/api/strands/${id}/cleaned.csv`" download>a document a row</a>,
      <a :href="`/api/strands/${id}/cleaned.zip`" download>a document a file, a sentence a line</a>
    </p>
    <p v-if="!last.tokens" class="notice bad">Nothing is left. Switch off a pass, or shorten its list.</p>
  </div>
</template>

<style scoped>
.survival {
  display: grid;
  grid-template-columns: 7.6rem 1fr minmax(4.2rem, max-content);
  gap: 0.6rem;
  align-items: center;
  width: 100%;
  padding: 0.2rem 0;
}
.survival > span:first-child,
.survival .numbers {
  text-align: right;
}
.survival:not(:disabled):hover,
.selected {
  background: var(--woad-wash);
}
.survival:disabled {
  cursor: default;
}
.off {
  color: var(--soft);
}
.track {
  display: flex;
  height: 11px;
}
i {
  background: var(--woad);
}
i.lost {
  background: var(--struck);
  opacity: 0.55;
}
.after {
  margin-top: 0.6rem;
}
</style>
