<script setup lang="ts">
import Button from 'primevue/button'
import { computed, useTemplateRef } from 'vue'

import { useStrand } from '@/api/strand'
import JobNotice from '@/frame/JobNotice.vue'
import Waiting from '@/frame/Waiting.vue'
import { useJob } from '@/frame/jobs'
import { useRooms } from '@/frame/rooms'
import ChartFrame from '@/marks/ChartFrame.vue'
import { count, counted } from '@/marks/format'

import CandidateTable from './CandidateTable.vue'
import FitTaken from './FitTaken.vue'
import MeasureChoice from './MeasureChoice.vue'
import SweepChart from './SweepChart.vue'
import SweepForm from './SweepForm.vue'
import { useChosenFit, useFits, useHow, useMeasuring } from './choose'
import { atWork, type Fit } from './sweep'

/** Fits over counts and seeds, measured; and the count that they suggest, with its reasons. */
const { made } = useStrand()
const { query, found, shownMeasures: measures } = useFits()
const { how, set } = useHow()
const { go } = useRooms()
const { progress, atWork: sweeping } = useJob('sweep')
const form = useTemplateRef('form')
const measured = useJob('measure')
const measuring = useMeasuring()
const fits = computed<Fit[]>(() => found.value?.fits ?? [])
const provisional = computed(() => atWork(progress.value?.tasks ?? [], fits.value))
const candidates = computed(() => found.value?.candidates ?? [])
const chosen = useChosenFit()
const rows = computed(() =>
  fits.value.map((fit) => [
    fit.settings.topics,
    fit.settings.seed,
    fit.settings.iterations,
    ...(found.value?.measures ?? []).map((measure) => fit.measures[measure.key] ?? null),
    fit.verdict,
  ]),
)
const heading = computed(() => {
  if (!found.value || found.value.suggested === null) return 'No count is suggested'
  const others = candidates.value.map((each) => each.topics).filter((each) => each !== found.value!.suggested)
  return `Suggested: ${found.value.suggested} topics${others.length ? `; ${others.join(', ')} would do too` : ''}`
})
const compare = () =>
  set({
    part: 'beside',
    counts: candidates.value
      .map((each) => each.topics)
      .slice(0, 3)
      .join(','),
  })
</script>

<template>
  <SweepForm ref="form" :some="fits.length > 0" />
  <Waiting v-if="!found && !query.error.value" what="Looking for fits of this matrix" />
  <p v-else-if="query.error.value" class="notice bad">{{ query.error.value.message }}</p>
  <p v-else-if="!fits.length && !provisional.length && !sweeping" class="soft">
    No fit has been made of this matrix yet. Start a sweep: it fits every count with every seed, side by side.
  </p>
  <template v-if="found && (fits.length || provisional.length)">
    <section v-if="found.reasons.length" class="suggestion" aria-label="The suggestion">
      <h2>{{ heading }}</h2>
      <p class="book">{{ found.reasons.join(' ') }}</p>
    </section>
    <MeasureChoice :measures="found.measures" :series="found.series" :of="found.of" />
    <JobNotice v-if="measured.told.value" :job="measured.told.value" />
    <p v-else-if="found.unmeasured && !sweeping" class="notice">
      {{ counted(found.unmeasured, 'fit') }} of these
      {{ how.reference ? 'not measured in these texts' : 'without all measures' }} yet.
      <button class="plain link" :disabled="measuring.isPending.value" @click="measuring.mutate()">Measure them</button>
    </p>
    <ChartFrame
      title=""
      name="sweep"
      :header="['topics', 'seed', 'iterations', ...found.measures.map((each) => each.key), 'trace']"
      :rows="rows">
      <SweepChart
        :fits="fits"
        :chance="found.chance"
        :provisional="provisional"
        :measures="measures"
        :candidates="candidates.map((each) => each.topics)"
        :suggested="found.suggested"
        :chosen="chosen?.identity ?? ''"
        @pick="(fit) => set({ fit })" />
    </ChartFrame>
    <p class="soft small key">
      A point is one fit, hollow where it is at work, still moved or stayed behind another seed; the band is its spread
      over seeds.<template v-if="found.chance.length">
        In madder, dotted: the same words of {{ made.corpus?.documents }} documents dealt out at random, where there is
        nothing to find.</template
      >
    </p>
    <div class="two">
      <section v-if="found.reasons.length" aria-label="The candidates">
        <h2>{{ candidates.length ? 'Candidates' : 'What to try next' }}</h2>
        <CandidateTable
          v-if="candidates.length"
          :candidates="candidates"
          :suggested="found.suggested"
          :chosen="chosen?.identity"
          @pick="(fit) => set({ fit })" />
        <p v-if="!sweeping" class="row wrap">
          <Button
            v-if="found.widen.length"
            :label="`Sweep ${found.widen.join(', ')} too`"
            @click="form?.more(found.widen)" />
          <Button
            v-if="found.refine.length"
            severity="secondary"
            :label="`Refine: sweep ${found.refine.join(', ')} too`"
            @click="form?.more(found.refine)" />
          <Button
            v-if="candidates.length > 1"
            severity="secondary"
            label="Read candidates side by side"
            @click="compare" />
          <button class="plain link" @click="go('between')">What happens between counts</button>
        </p>
        <p v-for="note in found.notes" :key="note" class="notice">{{ note }}</p>
        <p v-if="found.doubt" class="notice">
          {{ found.doubt }}
          <button
            v-if="found.longer && !sweeping"
            class="plain link"
            @click="form?.more(found.longer.counts, found.longer.iterations)">
            Continue {{ found.longer.counts.join(', ') }} to {{ count(found.longer.iterations) }} iterations
          </button>
        </p>
      </section>
      <FitTaken v-if="chosen" :fit="chosen" :measures="found.measures" :suggested="found.suggested" />
    </div>
  </template>
</template>

<style scoped>
.two {
  grid-template-columns: minmax(0, 1.15fr) minmax(0, 1fr);
}
.key {
  margin: -0.4rem 0 0;
}
.suggestion p {
  margin: 0.2rem 0 0;
}
</style>
