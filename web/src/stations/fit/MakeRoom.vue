<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref, watch } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { strandPath, useStrand, useStrandChange, useWanted } from '@/api/strand'
import { useTakeFit } from '@/api/topics'
import JobNotice from '@/frame/JobNotice.vue'
import SettingField from '@/frame/SettingField.vue'
import SinceBefore from '@/frame/SinceBefore.vue'
import type { Field } from '@/frame/settings'
import { count, counted, decimal } from '@/marks/format'

import FitWorking from './FitWorking.vue'
import FormingThreads from './FormingThreads.vue'
import SettingAdvice from './SettingAdvice.vue'
import TraceChart from './TraceChart.vue'
import VectorsChoice from './VectorsChoice.vue'
import { useFit, useMethods } from './fit'
import { heldOut } from './forming'

const { made } = useStrand()
const { wanted } = useWanted()
const { job, told, progress, forming, found } = useFit()
type Settings = Schemas['MethodKind']['suggested']
type Clusters = Schemas['ClustersSettings']
/** As they are wanted, until something is typed. */
const settings = ref<Settings>()
watch(
  () => wanted.value?.fit,
  // Topics that were merged are not those of a fit made anew.
  (fit) => fit && (settings.value = { ...fit, merged: [] } as Settings),
  { immediate: true },
)
const start = useStrandChange((strandId, body: Settings) =>
  ask(client.POST('/api/strands/{strand_id}/fits', { params: strandPath(strandId), body })),
)
const trace = computed(() => forming.value?.trace ?? (job.value ? [] : (found.value?.trace ?? [])))
const watches = computed(() => forming.value?.watches ?? found.value?.watches ?? [])
const held = computed(() => heldOut(trace.value, watches.value))
const usable = computed(() => (made.value.matrix?.documents ?? 0) - (made.value.matrix?.emptied ?? 0))
const methods = useMethods()
const method = computed(() => methods.data.value?.find((each) => each.method === settings.value?.method))
const hints = computed(() =>
  Object.entries((method.value?.fields ?? {}) as Record<string, Field>)
    .filter(([, field]) => field.description)
    .map(([name, field]) => `${name.replaceAll('_', ' ')}: ${field.description}`),
)
/** The advice on settings, which takes a moment to measure, stands open. */
const advising = ref(false)
const openTo = computed(() =>
  Object.fromEntries(
    Object.entries((method.value?.fields ?? {}) as Record<string, Field>).map(([n, f]) => [n, f.left_open]),
  ),
)
const few = computed(
  () => !method.value?.finds && usable.value > 0 && usable.value < 10 * (settings.value?.topics ?? 0),
)
const take = useTakeFit()
/** Sets of words that were kept at Relate, as lines; the comma keeps a phrase together. */
const keptWords = computed(() => (wanted.value?.seed_words ?? []).map((set) => set.join(', ') + (set[1] ? '' : ',')))
const canTakeWords = computed(() => {
  const given = (settings.value as Record<string, unknown> | undefined)?.seed_words
  return Array.isArray(given) && keptWords.value.some((line) => !given.includes(line))
})
const takeWords = () => (settings.value = { ...settings.value, seed_words: keptWords.value } as Settings)
/** Another method begins with what suits it, but for how many topics and which seed. */
function otherMethod(name: string) {
  const other = methods.data.value?.find((each) => each.method === name)
  if (!other || !settings.value) return
  const counted = !other.finds && !method.value?.finds
  const kept = { seed: settings.value.seed, ...(counted ? { topics: settings.value.topics } : {}) }
  const made = wanted.value?.beside?.document_vectors
  settings.value = {
    ...other.suggested,
    ...kept,
    ...(other.reads_vectors && made ? { vectors: made } : {}),
  } as Settings
}
const most = computed(() => (method.value?.fields as Record<string, Field> | undefined)?.iterations?.maximum)
/** Up to how many iterations the fit is to go on. */
const further = ref(0)
watch(
  () => found.value?.going_on?.suggested,
  (suggested) => (further.value = suggested ?? 0),
  { immediate: true },
)
const goOn = () => found.value && start.mutate({ ...found.value.settings, iterations: further.value } as Settings)
const goesOn = computed(() => {
  const { reached, least } = found.value?.going_on ?? { reached: 0, least: 0 }
  if (!reached) return 'Its last state is not kept any more: all are made anew, with the same result.'
  if (further.value < least) return `Fewer than ${count(least)} are made anew: their samples come from before its end.`
  return `The ${count(reached)} there are stay; ${count(further.value - reached)} more are made.`
})
const working = ref(false)
</script>

<template>
  <div class="make">
    <form v-if="settings" class="settings" @submit.prevent="start.mutate(settings)">
      <label v-if="(methods.data.value?.length ?? 0) > 1"
        >method
        <select
          :value="settings.method"
          aria-label="Method"
          @change="otherMethod(($event.target as HTMLSelectElement).value)">
          <option v-for="each in methods.data.value" :key="each.method" :value="each.method">{{ each.title }}</option>
        </select></label
      >
      <SettingField
        v-for="(field, name) in method?.fields"
        :key="name"
        :name="String(name)"
        :called="String(name).replaceAll('_', ' ')"
        :field="field as Field"
        :value="(settings as Record<string, unknown>)[name]"
        @change="settings = { ...settings, [name]: $event } as Settings" />
      <VectorsChoice
        v-if="method?.reads_vectors"
        :value="(settings as Clusters).vectors!"
        :usual="(method.suggested as Clusters).vectors!"
        @change="settings = { ...settings, vectors: $event } as Settings" />
      <span v-if="settings.continues" class="small">
        first {{ count(settings.continues.iterations) }} iterations without the documents that were held out at Choose,
        then on with all
        <button type="button" class="plain link" @click="settings = { ...settings, continues: null } as Settings">
          fit all from the beginning
        </button>
      </span>
      <Button v-if="!job" type="submit" label="Fit" :loading="start.isPending.value" />
      <button v-if="canTakeWords" type="button" class="plain link" @click="takeWords">
        Mark {{ counted(keptWords.length, 'topic') }} by the words kept at Relate
      </button>
      <button type="button" class="plain link" :aria-expanded="advising" @click="advising = !advising">
        {{ advising ? 'Close the advice' : 'What suits this corpus?' }}
      </button>
      <SettingAdvice
        v-if="advising"
        :settings="settings"
        :open-to="openTo"
        @take="(name, value) => (settings = { ...settings, [name]: value } as Settings)" />
      <small class="soft hint">{{ hints.join('; ') }}. To compare counts, go to Choose.</small>
    </form>
    <p v-if="few" class="notice">
      {{ counted(usable, 'document') }} with counted words for {{ counted(settings?.topics ?? 0, 'topic') }}: about
      {{ count(Math.max(1, Math.round(usable / (settings?.topics ?? 1)))) }} for each.
    </p>
    <JobNotice v-if="told" :job="told" kept="What it had finished is kept, and where its fit was.">
      {{ progress?.before ? `Waits for ${counted(progress.before, 'other job')}` : (progress?.phase ?? 'Waiting')
      }}{{ forming?.iteration ? `, iteration ${count(forming.iteration)}` : '' }}
    </JobNotice>
    <FormingThreads v-if="forming?.grown?.length" :forming="forming" />
    <p v-if="!job && !found" class="soft">Press Fit for one model, or compare topic counts at Choose first.</p>
    <div class="two">
      <section>
        <TraceChart v-if="trace.length > 1" :trace="trace" :watches="watches" />
      </section>
      <section v-if="forming?.judged" aria-label="So far">
        <h2>So far</h2>
        <p>{{ forming.judged }}.</p>
        <p v-if="held" class="soft">
          {{ watches[held - 1].title }}: {{ decimal(trace.at(-1)?.[held], 3) }}, {{ decimal(trace[0][held], 3) }} at the
          first.
        </p>
      </section>
      <section v-if="!job && found">
        <h2>How it went</h2>
        <p
          v-for="(sentence, at) in found.judged"
          :key="sentence"
          :class="{ loss: at === 0 && found.summary.verdict !== 'level' }">
          {{ sentence }}
        </p>
        <p v-if="found.poorer" class="notice">
          It stayed in a poorer mode: seed {{ found.poorer.seed }} is likelier by {{ decimal(found.poorer.by) }}
          {{ found.poorer.unit }}.
          <button class="plain link" @click="take.mutate(found.poorer.identity)">
            Take seed {{ found.poorer.seed }}
          </button>
        </p>
        <p class="soft small">{{ found.summary.remarks }}.</p>
        <form v-if="found.going_on" class="row wrap further" @submit.prevent="goOn">
          <label
            >go on to
            <input
              v-model.number="further"
              type="number"
              :min="found.settings.iterations + 1"
              :max="most"
              aria-label="Iterations to go on to" />
            iterations</label
          >
          <Button type="submit" size="small" label="Go on" :loading="start.isPending.value" />
          <small class="soft">{{ goesOn }}</small>
        </form>
        <button class="plain link small" :aria-expanded="working" @click="working = !working">
          {{ working ? 'Close the working' : `Work out the ${watches[0]?.title ?? 'trace'}` }}
        </button>
        <FitWorking v-if="working" of="likelihood" />
        <SinceBefore />
      </section>
    </div>
  </div>
</template>

<style scoped>
.make {
  display: grid;
  gap: 0.9rem;
  grid-template-columns: minmax(0, 1fr);
}
.settings {
  display: flex;
  flex-wrap: wrap;
  gap: 0.6rem 1.2rem;
  align-items: end;
}
.settings label {
  display: grid;
  font-size: 0.86rem;
}
.settings :deep(textarea) {
  width: 22rem;
  height: 3.6rem;
}
.hint {
  flex-basis: 100%;
}
.two {
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
}
.further input {
  width: 5.4rem;
}
</style>
