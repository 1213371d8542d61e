<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'

import { ask, client, type Schemas } from '@/api/client'
import { strandPath, useStrand, useStrandChange, useStrandQuery } from '@/api/strand'
import { useTakeFit } from '@/api/topics'
import JobNotice from '@/frame/JobNotice.vue'
import StaleNotice from '@/frame/StaleNotice.vue'
import Waiting from '@/frame/Waiting.vue'
import { useJob } from '@/frame/jobs'
import { say } from '@/frame/notices'
import { useAddress } from '@/frame/address'
import ChartFrame from '@/marks/ChartFrame.vue'
import { count, counted, decimal, duration } from '@/marks/format'

import FitTopics from './FitTopics.vue'
import { parseNumbers, type Fit } from './sweep'
import SweepChart from './SweepChart.vue'

const router = useRouter()
const { id, ply } = useStrand()
const { get, set } = useAddress()
const fits = useStrandQuery(
  'fits',
  () => ply('matrix')?.identity,
  (strandId) => ask(client.GET('/api/strands/{strand_id}/fits', { params: strandPath(strandId) })),
  () => !!ply('matrix')?.identity,
)
const found = computed(() => fits.data.value)
const suggested = computed(() => found.value?.sweep)
const typed = ref<{ counts?: string; seeds?: string; iterations?: number }>({})
/** What is written in a box, or suggested. In hand it keeps what it holds, for a suggestion that arrives meanwhile
 * must not mix with what is written; left empty it shows the suggestion again. */
const part = <Name extends keyof typeof typed.value>(name: Name, otherwise: () => (typeof typed.value)[Name]) => {
  const set = (value?: (typeof typed.value)[Name] | '') => (typed.value = { ...typed.value, [name]: value })
  const value = computed({ get: () => typed.value[name] ?? otherwise(), set })
  return { value, hold: { onFocus: () => set(value.value ?? ''), onBlur: () => value.value || set(undefined) } }
}
const { value: counts, hold: holdCounts } = part('counts', () => suggested.value?.counts.join(', '))
const { value: seeds, hold: holdSeeds } = part('seeds', () => suggested.value?.seeds.join(', '))
const { value: iterations, hold: holdIterations } = part('iterations', () => suggested.value?.iterations)
const { atWork: working, told, progress } = useJob('sweep')
const fitted = computed(() => progress.value?.parts.fit)
const sweep = useStrandChange((strandId, body: Schemas['SweepRequest']) =>
  ask(client.POST('/api/strands/{strand_id}/sweeps', { params: strandPath(strandId), body })),
)
const take = useTakeFit()
function start() {
  const wanted = {
    over: {},
    counts: parseNumbers(counts.value ?? ''),
    seeds: parseNumbers(seeds.value ?? ''),
    iterations: iterations.value ?? 0,
  }
  if (!wanted.counts.length || !wanted.seeds.length)
    return say('Write counts and seeds as numbers, such as 4, 6, 8 or 4-20.', 'bad')
  sweep.mutate(wanted)
}
/** The fits of one series of settings: others are another comparison. */
const series = computed(() => Number(get('series') || (found.value?.of ?? 0)))
const all = computed<Fit[]>(() => (found.value?.fits ?? []).filter((fit) => fit.series === series.value))
const isOf = computed(() => series.value === found.value?.of)
const chosen = computed(() => all.value.find((fit) => fit.identity === get('fit')) ?? best.value ?? there.value)
/** Where nothing is suggested yet: the strand's own fit, or the first. */
const there = computed(() => all.value.find((fit) => fit.current) ?? all.value[0])
/** The fit to suggest: at the suggested count the best of the seeds that are in no poorer mode. */
const best = computed(() => {
  const at = all.value.filter((fit) => fit.settings.topics === found.value?.suggested && !fit.poorer)
  const value = (fit: Fit) => fit.measures[measures.value[0]?.key ?? ''] ?? -Infinity
  return at.reduce<Fit | undefined>((a, b) => (a && value(a) >= value(b) ? a : b), undefined)
})
/** Counts to try where no optimum is in sight, with the seeds and iterations that were used. */
function widen() {
  const first = all.value[0]
  typed.value = {
    counts: found.value?.widen.join(', '),
    seeds: [...new Set(all.value.map((fit) => fit.settings.seed))].join(', '),
    iterations: first?.settings.iterations,
  }
  start()
}
const measures = computed(() => found.value?.measures ?? [])
const grid = computed(() => {
  const topics = new Set(all.value.map((fit) => fit.settings.topics))
  const seedsMade = new Set(all.value.map((fit) => fit.settings.seed))
  return `${counted(topics.size, 'count')}, ${counted(seedsMade.size, 'seed')}; a point is one fit, the band its spread`
})
const rows = computed(() =>
  all.value.map((fit) => [
    fit.settings.topics ?? 0,
    fit.settings.seed ?? 0,
    fit.settings.iterations ?? 0,
    ...measures.value.map((measure) => fit.measures[measure.key] ?? null),
    fit.verdict,
  ]),
)
async function takeFit(fit: Fit) {
  await take.mutateAsync(fit.identity)
  say(`${fit.settings.topics} topics, seed ${fit.settings.seed}: taken for the strand.`)
  router.push(`/strand/${id.value}/label`)
}
</script>

<template>
  <div class="station choose">
    <div class="row wrap spread">
      <div class="row">
        <h1>How many topics?</h1>
        <span v-if="all.length" class="soft small">{{ grid }}</span>
      </div>
    </div>
    <StaleNotice :steps="['corpus', 'cleaning', 'matrix']">
      A sweep rebuilds what it needs first. These fits are of the earlier matrix.
    </StaleNotice>
    <label v-if="(found?.series.length ?? 0) > 1" class="row small series"
      >settings compared
      <select
        :value="series"
        aria-label="Series of settings"
        @change="set({ series: ($event.target as HTMLSelectElement).value, fit: '' })">
        <option v-for="(name, at) in found?.series" :key="at" :value="at">{{ name }}</option>
      </select>
      <span class="soft">fits of other settings are compared by themselves</span></label
    >
    <form class="row wrap settings" @submit.prevent="start">
      <label>counts <input v-model="counts" v-bind="holdCounts" size="24" aria-label="Topic counts" /></label>
      <label>seeds <input v-model="seeds" v-bind="holdSeeds" size="8" aria-label="Seeds" /></label>
      <label
        >iterations
        <input v-model.number="iterations" v-bind="holdIterations" type="number" min="20" max="20000" step="10"
      /></label>
      <Button
        v-if="!working"
        type="submit"
        :severity="all.length ? 'secondary' : undefined"
        :label="all.length ? 'Sweep more' : 'Sweep'"
        :disabled="!found && !(counts && seeds && iterations)"
        :loading="sweep.isPending.value" />
      <small v-if="suggested" class="soft why">
        {{ counted(parseNumbers(counts ?? '').length * parseNumbers(seeds ?? '').length, 'fit') }}. Suggested:
        {{ suggested.why }}.
      </small>
    </form>
    <JobNotice v-if="told" :job="told" kept="The fits that were finished are kept.">
      <template v-if="fitted?.finished || progress?.phase === 'Sampling'">
        {{ count(fitted?.finished ?? 0) }} of {{ counted(fitted?.total ?? 0, 'fit') }} finished; points appear as they
        do
      </template>
      <template v-else>{{ progress?.phase ?? 'Waiting' }}, before the first fit</template>
    </JobNotice>
    <ChartFrame
      v-if="all.length"
      title=""
      name="sweep"
      :header="['topics', 'seed', 'iterations', ...measures.map((each) => each.key), 'trace']"
      :rows="rows">
      <SweepChart
        :fits="all"
        :measures="measures"
        :candidates="isOf ? (found?.candidates ?? []) : []"
        :suggested="isOf ? (found?.suggested ?? null) : null"
        :chosen="chosen?.identity ?? ''"
        @pick="(fit) => set({ fit })" />
    </ChartFrame>
    <p v-else-if="!ply('matrix')?.identity" class="soft">
      There is no matrix yet. Bring documents in at Gather; cleaning and weighing follow by themselves.
    </p>
    <Waiting v-else-if="!found" what="Looking for fits of this matrix" />
    <p v-else-if="!working" class="soft">
      No fit has been made of this matrix yet. Start a sweep: it fits every count with every seed, side by side.
    </p>
    <div v-if="all.length" class="two">
      <section v-if="found?.suggestion && isOf">
        <h2 v-if="found.suggested === null">No count is suggested</h2>
        <h2 v-else>
          Suggested: {{ found.suggested
          }}<template v-if="found.candidates.length > 1">, of {{ found.candidates.join(', ') }}</template>
        </h2>
        <p class="book">
          {{ found.suggestion }}
        </p>
        <p v-if="found.widen.length && !working" class="row">
          <Button :label="`Sweep ${found.widen.join(', ')} too`" @click="widen" />
        </p>
        <p v-for="note in found.notes" :key="note" class="notice">{{ note }}</p>
        <p v-if="found.doubt" class="notice">{{ found.doubt }}</p>
      </section>
      <section v-if="chosen">
        <h2>{{ counted(chosen.settings.topics ?? 0, 'topic') }}, seed {{ chosen.settings.seed }}</h2>
        <p class="soft numbers">
          <template v-for="measure in measures" :key="measure.key">
            <template v-if="typeof chosen.measures[measure.key] === 'number'"
              ><span :title="measure.about">{{ measure.title.toLowerCase() }}</span>
              {{ decimal(chosen.measures[measure.key], measure === measures[0] ? 3 : 2) }} ·
            </template>
          </template>
          <template v-if="chosen.gain">
            {{ decimal(chosen.gain.mean) }} nats a token better than one topic at words held out ·</template
          >
          trace {{ chosen.verdict }} · {{ duration(chosen.seconds) }}
        </p>
        <p class="row">
          <Button
            :disabled="chosen.current"
            :label="chosen.current ? 'On this strand' : `Take ${chosen.settings.topics}, seed ${chosen.settings.seed}`"
            @click="takeFit(chosen)" />
          <span class="soft small">labels follow matched topics as suggestions</span>
        </p>
        <p v-if="chosen.poorer" class="notice">
          This seed stayed in a poorer mode: seed {{ chosen.poorer.seed }} is likelier by
          {{ decimal(chosen.poorer.by) }} {{ chosen.poorer.unit }}.
          <button class="plain link" @click="set({ fit: chosen.poorer.identity })">
            Look at seed {{ chosen.poorer.seed }}
          </button>
        </p>
        <p v-if="chosen.empty" class="notice">
          {{ chosen.empty }} of its {{ chosen.settings.topics }} topics stayed empty; no measure counts them.
        </p>
        <p v-if="chosen.verdict !== 'level'" class="notice">
          {{
            chosen.verdict === 'still moving'
              ? 'This fit was still moving at its last iteration.'
              : `The trace of this fit: ${chosen.verdict}.`
          }}
        </p>
      </section>
    </div>
    <FitTopics v-if="chosen" :identity="chosen.identity" />
  </div>
</template>

<style scoped>
.choose {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 0.8rem;
  align-content: start;
}
.settings {
  gap: 0.4rem 1.2rem;
}
.why {
  flex-basis: 100%;
}
.series select {
  max-width: 30rem;
}
.settings input[type='number'] {
  width: 5rem;
}
.two {
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
}
</style>
