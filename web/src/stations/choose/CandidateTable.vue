<script setup lang="ts">
import { decimal } from '@/marks/format'

import type { Candidate } from './choose'

/** The counts that may be chosen, with what speaks for each; a row picks its steadiest fit. */
defineProps<{ candidates: Candidate[]; suggested: number | null; chosen?: string }>()
const emit = defineEmits<{ pick: [string] }>()
</script>

<template>
  <table class="candidates">
    <thead>
      <tr>
        <th>topics</th>
        <th class="right">coherence</th>
        <th class="right">seeds agree</th>
        <th class="right">held out</th>
        <th class="right">settled</th>
        <th>steadiest</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="each in candidates" :key="each.topics" :class="{ chosen: each.best === chosen }">
        <th scope="row">{{ each.topics }}<span v-if="each.topics === suggested" class="mark"> suggested</span></th>
        <td class="right numbers">{{ decimal(each.coherence, 3) }} ± {{ decimal(each.error, 3) }}</td>
        <td class="right numbers">{{ decimal(each.stability) }}</td>
        <td class="right numbers" :class="{ worse: each.worse }" :title="each.worse ? 'surely worse' : undefined">
          {{ decimal(each.held_out, 3) }}{{ each.worse ? ' ↓' : '' }}
        </td>
        <td class="right numbers">{{ each.settled }} of {{ each.fits }}</td>
        <td>
          <button class="plain link" @click="emit('pick', each.best)">seed {{ each.seed }}</button>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.candidates {
  width: 100%;
  border-collapse: collapse;
}
th,
td {
  padding: 0.18rem 0.5rem 0.18rem 0;
  border-bottom: 1px solid var(--hairline);
  text-align: left;
  white-space: nowrap;
}
.right {
  text-align: right;
}
thead th {
  font-weight: 400;
  color: var(--soft);
  font-size: 0.82rem;
}
.mark {
  color: var(--lichen);
  font-weight: 400;
}
.worse {
  color: var(--madder);
}
.chosen {
  background: var(--woad-wash);
}
</style>
