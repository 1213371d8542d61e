<script setup lang="ts">
import { computed } from 'vue'

import { useEvidence } from '@/frame/evidence'
import { useLeftOut } from '@/frame/leaving'
import { counted } from '@/marks/format'

/** The words that were left out, round by round. */
const { select } = useEvidence()
const found = useLeftOut()
const rounds = computed(() => found.value?.rounds ?? [])
const words = computed(() => rounds.value.reduce((sum, round) => sum + round.words.length, 0))
</script>

<template>
  <section>
    <h2>Left out</h2>
    <p class="soft small">
      {{
        rounds.length
          ? `${counted(words, 'word')} in ${counted(rounds.length, 'round')}; X shows what was looked at`
          : 'No word so far: x leaves out the marked word, or the selected term'
      }}
    </p>
    <p v-for="(round, at) in rounds" :key="at" class="row wrap">
      <button
        v-for="word in round.words"
        :key="word"
        class="plain book"
        :class="{ back: round.back.includes(word) }"
        :title="round.back.includes(word) ? 'brought back since' : ''"
        @click="select({ word })">
        {{ word }}
      </button>
    </p>
  </section>
</template>

<style scoped>
p.row {
  gap: 0.2rem 0.8rem;
  margin: 0.2rem 0;
}
.back {
  color: var(--soft);
}
</style>
