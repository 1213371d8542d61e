<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref } from 'vue'

import { say } from '@/frame/notices'
import { counted, decimal, duration } from '@/marks/format'

import FitTopics from './FitTopics.vue'
import { useChoose, useHow } from './choose'
import type { Fit, Measure } from './sweep'

/** A fit that may be taken: what it measures, its topics, and why it is chosen. */
const props = defineProps<{ fit: Fit; measures: Measure[]; suggested: number | null }>()
const { set } = useHow()
const choose = useChoose()
const reason = ref('')
/** What is a number of its own; whether it settled is said of its trace. */
const known = computed(() =>
  props.measures.filter((each) => each.key !== 'settled' && typeof props.fit.measures[each.key] === 'number'),
)
async function take() {
  await choose.mutateAsync({ fit: props.fit.identity, reason: reason.value })
  say(`${props.fit.settings.topics} topics, seed ${props.fit.settings.seed}: chosen. It goes on with all documents.`)
}
</script>

<template>
  <section aria-label="The fit to take">
    <h2>{{ counted(fit.settings.topics, 'topic') }}, seed {{ fit.settings.seed }}</h2>
    <p class="soft numbers small">
      <template v-for="each in known" :key="each.key"
        ><button
          class="plain link"
          :title="`How it came about. It rewards ${each.rewards}.`"
          @click="set({ part: 'working', measure: each.key, fit: fit.identity })">
          {{ each.title }} {{ decimal(fit.measures[each.key], 3) }}
        </button>
        ·
      </template>
      trace {{ fit.verdict }} · {{ duration(fit.seconds) }}
    </p>
    <form class="row take" @submit.prevent="take">
      <input
        v-model="reason"
        class="grow"
        maxlength="2000"
        placeholder="your reason, for the report"
        aria-label="Reason" />
      <Button
        type="submit"
        :disabled="fit.current || choose.isPending.value"
        :label="fit.current ? 'On this strand' : `Take ${fit.settings.topics}, seed ${fit.settings.seed}`" />
    </form>
    <p class="soft small">Labels follow matched topics as suggestions.</p>
    <p v-if="fit.poorer" class="notice">
      This seed stayed in a poorer mode: seed {{ fit.poorer.seed }} is likelier by {{ decimal(fit.poorer.by) }}
      {{ fit.poorer.unit }}.
      <button class="plain link" @click="set({ fit: fit.poorer.identity })">Look at seed {{ fit.poorer.seed }}</button>
    </p>
    <p v-if="fit.empty" class="notice">
      {{ fit.empty }} of its {{ fit.settings.topics }} topics stayed empty; no measure counts them.
    </p>
    <p v-if="fit.verdict !== 'level'" class="notice">
      {{
        fit.verdict === 'still moving'
          ? 'This fit was still moving at its last iteration.'
          : `The trace of this fit: ${fit.verdict}.`
      }}
    </p>
    <FitTopics :identity="fit.identity" />
  </section>
</template>

<style scoped>
.take input {
  min-width: 8rem;
}
</style>
