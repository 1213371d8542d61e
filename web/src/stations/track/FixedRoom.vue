<script setup lang="ts">
import { computed } from 'vue'

import { useRegression } from '@/api/regression'
import { useTopics } from '@/api/topics'
import JobNotice from '@/frame/JobNotice.vue'
import Waiting from '@/frame/Waiting.vue'
import { useJob } from '@/frame/jobs'

import RegressedTopic from './RegressedTopic.vue'
import RegressionBar from './RegressionBar.vue'
import RegressionWeave from './RegressionWeave.vue'
import { useTerms } from './regression'

/** What remains of differences and of the time when other things are held fixed. */
const { of, terms, query: asked, choices, chosen, get, set } = useTerms()
const { topics } = useTopics()
const topic = computed(() => {
  const given = Number(get('t', '-1'))
  return topics.value[given] ? given : undefined
})
const first = computed(() => topic.value ?? 0)
const { query, again, error } = useRegression(of, () => [first.value])
const { told } = useJob('regressing')
const found = computed(() => query.data.value)
const shown = computed(() => found.value?.topics.find((each) => each.topic === first.value))
</script>

<template>
  <p v-if="asked.error.value" class="notice bad">{{ asked.error.value.message }}</p>
  <h1>What remains, other things held fixed</h1>
  <RegressionBar />
  <p v-if="query.error.value ?? error" class="notice bad">{{ (query.error.value ?? error)?.message }}</p>
  <p v-else-if="choices && !terms.length" class="notice">Choose a field, or the date.</p>
  <template v-else-if="found?.made">
    <p class="outcome">{{ found.says }}</p>
    <section v-if="found.limits.length" class="limits small" aria-label="What it can’t say">
      <b>What it can’t say:</b> {{ found.limits.join(' ') }}
    </section>
    <div class="two" :class="{ waiting: query.isPlaceholderData.value }">
      <RegressionWeave :found="found" :topic="first" @pick="set({ t: String($event), point: '' })" />
      <RegressedTopic v-if="shown && of" :found="found" :regressed="shown" :of="of" />
    </div>
    <p v-if="!chosen && choices" class="soft small">Suggested: {{ choices.why }}.</p>
  </template>
  <JobNotice v-else-if="told" :job="told" />
  <Waiting v-else-if="!found || query.isPlaceholderData.value" what="Looking at the fields" />
  <p v-else class="row">
    <span>It is not worked out.</span> <button class="plain chip" @click="again()">Work it out</button>
  </p>
</template>

<style scoped>
.outcome {
  font-family: var(--heading);
  font-size: 1.1rem;
  margin: 0;
}
.limits {
  border-left: 3px solid var(--weld);
  padding-left: 0.8rem;
}
.two {
  display: grid;
  grid-template-columns: minmax(17rem, 2fr) minmax(0, 5fr);
  gap: 1.2rem;
  align-items: start;
}
.waiting {
  opacity: 0.6;
}
</style>
