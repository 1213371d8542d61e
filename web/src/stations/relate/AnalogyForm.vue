<script setup lang="ts">
import { computed, ref, watch } from 'vue'

import { ask, client } from '@/api/client'
import { strandPath, useStrandQuery } from '@/api/strand'
import { useAddress } from '@/frame/address'
import { decimal } from '@/marks/format'

/** What stands to a third word as a second does to a first. */
const props = defineProps<{ identity: string; first: string }>()
defineEmits<{ word: [string] }>()
const { get, set } = useAddress()
const asked = computed(() => get('analogy').split('|').filter(Boolean))
const words = ref(['', '', ''])
watch(
  [asked, () => props.first],
  () => (words.value = asked.value.length === 3 ? [...asked.value] : [props.first, '', '']),
  { immediate: true },
)
const query = useStrandQuery(
  'analogy',
  () => [props.identity, ...asked.value],
  (id) =>
    ask(
      client.GET('/api/strands/{strand_id}/relate/near-words/analogy', {
        params: { ...strandPath(id), query: { first: asked.value[0], second: asked.value[1], third: asked.value[2] } },
      }),
    ),
  () => asked.value.length === 3,
)
const found = computed(() => (asked.value.length === 3 && !query.error.value ? query.data.value : undefined))
const go = () => set({ analogy: words.value.map((each) => each.trim()).join('|') })
</script>

<template>
  <section>
    <h2>What stands to what</h2>
    <form class="row wrap small" @submit.prevent="go">
      <input v-model="words[0]" required size="12" aria-label="First word" /> is to
      <input v-model="words[1]" required size="12" aria-label="Second word" /> as
      <input v-model="words[2]" required size="12" aria-label="Third word" /> is to
      <button class="plain link">?</button>
    </form>
    <p v-if="asked.length === 3 && query.error.value" class="notice bad">{{ query.error.value.message }}</p>
    <template v-else-if="found">
      <p class="row wrap answers">
        <button
          v-for="each in found.found.slice(0, 8)"
          :key="each.term"
          class="plain chip"
          :title="`${found.formula} = ${decimal(each.parts[1])} − ${decimal(each.parts[0])} + ${decimal(each.parts[2])}`"
          @click="$emit('word', each.term)">
          <span class="book">{{ each.display }}</span>
          <small class="soft numbers"
            >{{ decimal(each.parts[1]) }} − {{ decimal(each.parts[0]) }} + {{ decimal(each.parts[2]) }} =
            {{ decimal(each.cosine) }}</small
          >
        </button>
      </p>
      <p class="small soft">{{ found.formula }}; the three words themselves are left out.</p>
    </template>
  </section>
</template>

<style scoped>
section {
  border-top: 1px solid var(--soft);
  padding-top: 0.5rem;
  display: grid;
  gap: 0.4rem;
}
.answers {
  gap: 0.3rem;
  margin: 0;
}
p {
  margin: 0;
}
</style>
