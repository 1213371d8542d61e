<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { strandPath, useStrandChange, useWanted } from '@/api/strand'
import { useMethods } from '@/api/topics'
import JobNotice from '@/frame/JobNotice.vue'
import { useJob } from '@/frame/jobs'
import { say } from '@/frame/notices'
import { count, counted, duration } from '@/marks/format'

import { useFits, useSweepTime } from './choose'
import { parseNumbers, parseValues } from './sweep'

/** What to sweep over, how long that takes, and the sweep at work. */
const props = defineProps<{ some: boolean }>()
const { found } = useFits()
const suggested = computed(() => found.value?.sweep)
const methods = useMethods()
const typed = ref<{ counts?: string; seeds?: string; iterations?: number; methods?: string[] }>({})
/** What is written in a box, or suggested. In hand it keeps what it holds, for a suggestion that arrives meanwhile
 * must not mix with what is written; left empty it shows the suggestion again. */
const part = <Name extends 'counts' | 'seeds' | 'iterations'>(
  name: Name,
  otherwise: () => (typeof typed.value)[Name],
) => {
  const set = (value?: (typeof typed.value)[Name] | '') => (typed.value = { ...typed.value, [name]: value })
  const value = computed({ get: () => typed.value[name] ?? otherwise(), set })
  return { value, hold: { onFocus: () => set(value.value ?? ''), onBlur: () => value.value || set(undefined) } }
}
const { value: counts, hold: holdCounts } = part('counts', () => suggested.value?.counts.join(', '))
const { value: seeds, hold: holdSeeds } = part('seeds', () => suggested.value?.seeds.join(', '))
const { value: iterations, hold: holdIterations } = part('iterations', () => suggested.value?.iterations)
const { wanted: settings } = useWanted()
/** A setting that may be varied too, with its values as they are written. */
const varied = ref({ name: '', values: '' })
const variable = computed(() => {
  const some = (methods.data.value ?? []).filter((each) => chosen(each.method))
  return [...new Set(some.flatMap((each) => each.sweeps))]
})
const over = computed(() => {
  const values = parseValues(varied.value.values)
  return varied.value.name && values.length ? { [varied.value.name]: values } : {}
})
const { atWork, told, progress } = useJob('sweep')
const fitted = computed(() => progress.value?.parts.fit)
const twins = computed(() => progress.value?.parts.twin)
const wanted = computed<Schemas['SweepRequest'] | undefined>(() => {
  const request = {
    methods: (typed.value.methods ?? []) as Schemas['SweepRequest']['methods'],
    over: over.value,
    counts: parseNumbers(counts.value ?? ''),
    seeds: parseNumbers(seeds.value ?? ''),
    iterations: iterations.value ?? 0,
  }
  const right = request.counts.length && request.seeds.length && request.iterations >= 20
  return right && request.counts[0] >= 2 ? request : undefined
})
const time = useSweepTime(() => (atWork.value ? undefined : wanted.value))
const sweep = useStrandChange((strandId, body: Schemas['SweepRequest']) =>
  ask(client.POST('/api/strands/{strand_id}/sweeps', { params: strandPath(strandId), body })),
)
function start() {
  if (!wanted.value) return say('Write counts and seeds as numbers, such as 4, 6, 8 or 4-20.', 'bad')
  sweep.mutate(wanted.value)
}
/** Counts to try too, or further, with the seeds and iterations that were used. */
function more(wantedCounts: number[], wantedIterations?: number) {
  const fits = found.value?.fits ?? []
  typed.value = {
    ...typed.value,
    counts: wantedCounts.join(', '),
    seeds: [...new Set(fits.map((fit) => fit.settings.seed))].join(', '),
    iterations: wantedIterations ?? Math.max(...fits.map((fit) => fit.settings.iterations)),
  }
  start()
}
/** The method of Fit, where none was chosen. */
const chosenMethods = computed(() =>
  typed.value.methods?.length ? typed.value.methods : [settings.value?.fit?.method ?? 'lda'],
)
const chosen = (method: string) => chosenMethods.value.includes(method)
function toggle(method: string) {
  const now = chosenMethods.value
  typed.value = { ...typed.value, methods: chosen(method) ? now.filter((each) => each !== method) : [...now, method] }
}
defineExpose({ more, atWork })
</script>

<template>
  <form class="row wrap settings" @submit.prevent="start">
    <label>counts <input v-model="counts" v-bind="holdCounts" size="24" aria-label="Topic counts" /></label>
    <label>seeds <input v-model="seeds" v-bind="holdSeeds" size="8" aria-label="Seeds" /></label>
    <label
      >iterations
      <input v-model.number="iterations" v-bind="holdIterations" type="number" min="20" max="20000" step="10"
    /></label>
    <span v-if="(methods.data.value?.length ?? 0) > 1" class="row methods" role="group" aria-label="Methods">
      <label v-for="each in methods.data.value" :key="each.method" :title="each.about"
        ><input type="checkbox" :checked="chosen(each.method)" @change="toggle(each.method)" /> {{ each.title }}</label
      >
    </span>
    <span v-if="variable.length" class="row vary">
      <label
        >vary
        <select v-model="varied.name" aria-label="Setting to vary">
          <option value="">nothing else</option>
          <option v-for="each in variable" :key="each" :value="each">{{ each }}</option>
        </select></label
      >
      <input
        v-if="varied.name"
        v-model="varied.values"
        size="14"
        placeholder="0.05, 0.1, 0.5"
        aria-label="Values of the setting" />
    </span>
    <Button
      v-if="!atWork"
      type="submit"
      :severity="props.some ? 'secondary' : undefined"
      :label="props.some ? 'Sweep more' : 'Sweep'"
      :disabled="!found && !(counts && seeds && iterations)"
      :loading="sweep.isPending.value" />
    <small v-if="suggested && !atWork" class="soft why" :title="suggested.why">
      <template v-if="time.data.value">
        {{ counted(time.data.value.fits, 'fit')
        }}{{ time.data.value.there ? ` (${count(time.data.value.there)} are there)` : '' }} and
        {{ count(time.data.value.twins) }} of words dealt out at random, about
        <b>{{ duration(time.data.value.seconds) }}</b>, told from {{ time.data.value.told_from }}.
      </template>
      <template v-else-if="time.isFetching.value">Trying how long that takes on this corpus.</template>
      <template v-if="!props.some">Suggested: {{ suggested.why }}.</template>
    </small>
  </form>
  <JobNotice v-if="told" :job="told" kept="The fits that were finished are kept.">
    <template v-if="fitted && fitted.finished === fitted.total && twins?.total">
      All {{ counted(fitted.total, 'fit') }} are there; {{ count(twins.finished) }} of {{ count(twins.total) }} of the
      same words dealt out at random finished
    </template>
    <template v-else-if="fitted?.finished || progress?.phase === 'Sampling'">
      {{ count(fitted?.finished ?? 0) }} of {{ counted(fitted?.total ?? 0, 'fit') }} finished; points appear as they do,
      hollow while a fit is at work
    </template>
    <template v-else>{{ progress?.phase ?? 'Waiting' }}, before the first fit</template>
  </JobNotice>
</template>

<style scoped>
.settings {
  gap: 0.4rem 1.2rem;
}
.why {
  flex-basis: 100%;
}
.settings input[type='number'] {
  width: 5rem;
}
.methods {
  gap: 0.8rem;
}
</style>
