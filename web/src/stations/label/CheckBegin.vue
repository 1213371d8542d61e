<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref, watch } from 'vue'

import type { Schemas } from '@/api/client'
import { useTopics } from '@/api/topics'
import { useEvidence } from '@/frame/evidence'

import { useBeginCheck } from './checks'

/** Draw the questions of a check. */
const props = defineProps<{ kinds: Schemas['CheckKindSeen'][] }>()
const { topics } = useTopics()
const { topic: selected } = useEvidence()
const begin = useBeginCheck()
const kind = ref('')
const chosen = computed(() => props.kinds.find((each) => each.name === kind.value) ?? props.kinds[0])
const sets = ref(1)
const each = ref(2)
const total = ref(100)
const topic = ref(selected.value ?? 0)
const concept = ref('')
watch(topic, (at) => (concept.value = (topics.value[at]?.label || topics.value[at]?.title || '').toLowerCase()), {
  immediate: true,
})
const draw = () =>
  begin.mutate({
    kind: chosen.value.name,
    sets: sets.value,
    each: each.value,
    total: total.value,
    seed: Math.floor(Math.random() * 1e6),
    ...(chosen.value.name === 'hand coding' ? { topic: topic.value, concept: concept.value } : {}),
  })
</script>

<template>
  <form class="row wrap begin" @submit.prevent="draw">
    <span role="group" aria-label="Kind of check">
      <button
        v-for="one in kinds"
        :key="one.name"
        type="button"
        class="plain mode"
        :aria-pressed="one === chosen"
        @click="kind = one.name">
        {{ one.title }}
      </button>
    </span>
    <label v-if="chosen.name === 'word intrusion'" class="small"
      >questions a topic <input v-model.number="sets" type="number" min="1" max="3" class="number"
    /></label>
    <label v-else-if="chosen.name === 'topic intrusion'" class="small"
      >documents a topic <input v-model.number="each" type="number" min="1" max="10" class="number"
    /></label>
    <template v-else>
      <label class="small"
        >topic
        <select v-model.number="topic" aria-label="Topic">
          <option v-for="one in topics" :key="one.topic" :value="one.topic">{{ one.title }}</option>
        </select></label
      >
      <label class="small"
        >is a document about
        <input v-model="concept" class="typed" maxlength="200" aria-label="What a document is to be about"
      /></label>
      <label class="small"
        >documents <input v-model.number="total" type="number" min="20" max="1000" class="number"
      /></label>
    </template>
    <Button type="submit" size="small" label="Draw the questions" :loading="begin.isPending.value" />
    <p class="soft small about">It tells {{ chosen.about }}.</p>
  </form>
</template>

<style scoped>
.begin {
  gap: 0.4rem 1rem;
}
.about {
  flex-basis: 100%;
  margin: 0;
}
.number {
  width: 4.5rem;
}
</style>
