<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref } from 'vue'

import type { Schemas } from '@/api/client'
import { useTopics } from '@/api/topics'
import Waiting from '@/frame/Waiting.vue'
import { useAddress } from '@/frame/address'
import { useEvidence } from '@/frame/evidence'
import { useJob } from '@/frame/jobs'
import Swatch from '@/marks/Swatch.vue'
import WorkingLines from '@/marks/WorkingLines.vue'
import { count, decimal, percent } from '@/marks/format'

import TogetherWeave from './TogetherWeave.vue'
import { useMakeReading, usePairWorking, useTogether } from './label'

/** Which topics documents hold together, against chance: a weave of all pairs, a list of the clearest. */
type Pair = Schemas['TopicPair']
const { topics, label, dye } = useTopics()
const { get, set } = useAddress()
const { select } = useEvidence()
const { atWork } = useJob('reading')
const make = useMakeReading()
const share = computed(() => Math.min(0.9, Math.max(0.01, Number(get('held')) || 0.1)))
const query = useTogether(share)
const found = computed(() => query.data.value)
const pair = ref<[number, number]>()
const working = usePairWorking(pair, share)
const shown = computed(() => (found.value?.pairs ?? []).slice(0, Math.max(12, found.value?.listed ?? 0)))
const most = computed(() => Math.max(0.5, ...shown.value.map((each) => Math.abs(each.effect))))
function pick(each: Pair) {
  pair.value = [each.one, each.other]
  select({ topic: each.one, with_topic: each.other, held_from: share.value })
}
const isPicked = (each: Pair) => pair.value?.[0] === each.one && pair.value[1] === each.other
function change(event: Event) {
  const percentage = Number((event.target as HTMLInputElement).value)
  pair.value = undefined
  set({ held: percentage > 0 && percentage !== 10 ? String(percentage / 100) : '' })
}
const start = () => make.mutate({ candidates: false, together: { share: share.value, permutations: 999, seed: 1 } })
</script>

<template>
  <div class="together">
    <div class="row wrap spread">
      <h1>Which topics go together</h1>
      <label class="small"
        >a document has a topic from
        <input
          type="number"
          min="1"
          max="90"
          class="number"
          :value="Math.round(100 * share)"
          aria-label="Least share in percent"
          @change="change" />
        % of its counted words on</label
      >
    </div>
    <Waiting v-if="!found && !query.error.value" what="Looking for pairs of topics" />
    <p v-else-if="query.error.value" class="notice bad">{{ query.error.value.message }}</p>
    <p v-else-if="!found?.made" class="row wrap">
      <span
        >Documents that hold two topics are set against tables in which the same topics are dealt out again over the
        same documents.</span
      >
      <Button
        size="small"
        label="Hold pairs against chance"
        :loading="make.isPending.value || !!atWork"
        @click="start" />
    </p>
    <template v-else>
      <p :class="{ waiting: query.isPlaceholderData.value }">{{ found.says }}</p>
      <div class="two">
        <TogetherWeave :found="found" :topics="topics" :share="share" @pick="pick" />
        <section aria-label="Pairs, the clearest first">
          <h2>{{ found.listed ? 'More and less than chance' : 'The clearest pairs, none of them sure' }}</h2>
          <div v-for="each in shown" :key="`${each.one} ${each.other}`" class="pair">
            <button
              class="plain"
              :class="{ current: isPicked(each) }"
              :title="`${each.observed} documents hold both, ${decimal(each.expected, 1)} by chance; p ${decimal(each.p, 4)}, adjusted ${decimal(each.adjusted, 4)}`"
              :aria-pressed="isPicked(each)"
              @click="pick(each)">
              <span class="who"
                ><Swatch :dye="dye(each.one)" :size="14" /><span class="cut">{{ label(each.one) }}</span>
                <Swatch :dye="dye(each.other)" :size="14" /><span class="cut">{{ label(each.other) }}</span></span
              >
              <span class="bar" aria-hidden="true">
                <i
                  :class="{ more: each.more }"
                  :style="{
                    width: `${(48 * Math.abs(each.effect)) / most}%`,
                    [each.more ? 'left' : 'right']: '50%',
                    opacity: each.sure ? 1 : 0.35,
                  }" /><b
                  :style="{ [each.more ? 'left' : 'right']: `calc(52% + ${(48 * Math.abs(each.effect)) / most}%)` }"
                  >{{ each.more ? '+' : '−' }}</b
                >
              </span>
              <span class="numbers small"
                >{{ count(each.observed) }} <span class="soft">of {{ decimal(each.expected, 1) }}</span></span
              >
            </button>
            <div v-if="isPicked(each) && working.data.value" class="worked">
              <WorkingLines :lines="working.data.value.lines" />
              <p class="soft small">{{ working.data.value.note }}</p>
            </div>
          </div>
          <p class="soft small">
            Bar: log₂ of documents with both over those expected; faint where the adjusted p is .05 or more. Documents:
            with both, of those expected. Correlations of log-ratios, in the table, lean to
            {{ decimal(found.lean) }} where nothing goes with anything, being parts of one whole. A topic has
            {{ percent(share, 0) }} of a document or more.
          </p>
        </section>
      </div>
    </template>
  </div>
</template>

<style scoped>
.together {
  display: grid;
  gap: 0.6rem;
  align-content: start;
}
.two {
  grid-template-columns: minmax(0, 1.15fr) minmax(0, 1fr);
  align-items: start;
}
.waiting {
  opacity: 0.7;
}
.pair {
  border-top: 1px solid var(--hairline);
}
.pair > button {
  display: grid;
  grid-template-columns: minmax(0, 1.5fr) minmax(5rem, 1fr) 5.4rem;
  gap: 0.6rem;
  align-items: center;
  width: 100%;
  min-height: 32px;
  padding: 0.1rem 0.2rem;
}
.pair > button:hover,
.current {
  background: var(--woad-wash);
}
.who {
  display: grid;
  grid-template-columns: max-content minmax(0, 1fr);
  gap: 0 0.4rem;
  align-items: center;
}
.bar {
  position: relative;
  height: 16px;
  border-left: 0;
}
.bar::before {
  content: '';
  position: absolute;
  left: 50%;
  height: 16px;
  border-left: 1px solid var(--soft);
}
.bar i {
  position: absolute;
  top: 4px;
  height: 8px;
  background: var(--weld);
}
.bar i.more {
  background: var(--lichen);
}
.bar b {
  position: absolute;
  top: -2px;
  font-size: 0.8rem;
}
.numbers {
  text-align: right;
}
.worked {
  padding: 0.2rem 0.6rem 0.4rem;
}
@media (max-width: 1180px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
