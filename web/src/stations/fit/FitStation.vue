<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref, watch } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { strandPath, useStrand, useStrandChange, useStrandQuery, useWanted } from '@/api/strand'
import { useTakeFit, useTopics } from '@/api/topics'
import JobNotice from '@/frame/JobNotice.vue'
import SettingField from '@/frame/SettingField.vue'
import type { Field } from '@/frame/settings'
import { useJob } from '@/frame/jobs'
import { useEvidence } from '@/frame/evidence'
import Swatch from '@/marks/Swatch.vue'
import { count, counted, decimal, percent } from '@/marks/format'

import SettingAdvice from './SettingAdvice.vue'
import TraceChart from './TraceChart.vue'

/** What a fit at work says of itself. */
interface Forming {
  trace?: number[][]
  watches?: Schemas['Watched'][]
  top?: string[][]
  iteration?: number
}
const { strand, ply, made } = useStrand()
const { wanted } = useWanted()
const { topics, label, dye } = useTopics()
const { select, isSelected } = useEvidence()
type Settings = Schemas['MethodKind']['suggested']
/** As they are wanted, until something is typed. */
const settings = ref<Settings>()
watch(
  () => wanted.value?.fit,
  (fit) => fit && (settings.value = { ...fit }),
  { immediate: true },
)
const { atWork: job, told, progress } = useJob('fit', 'build')
const task = computed(() => (progress.value?.tasks as Forming[] | undefined)?.find((each) => each.trace))
const fit = computed(() => ply('fit')?.identity)
const start = useStrandChange((strandId, body: Settings) =>
  ask(client.POST('/api/strands/{strand_id}/fits', { params: strandPath(strandId), body })),
)
const detail = useStrandQuery(
  'fit',
  fit,
  (strandId) =>
    ask(
      client.GET('/api/strands/{strand_id}/fits/{identity}', {
        params: { path: { strand_id: strandId, identity: fit.value ?? '' } },
      }),
    ),
  () => !!fit.value,
)
const found = computed(() => (fit.value ? detail.data.value : undefined))
const trace = computed(() => task.value?.trace ?? (job.value ? [] : (found.value?.trace ?? [])))
const watches = computed(() => task.value?.watches ?? found.value?.watches ?? [])
const held = computed(() => made.value.matrix?.held_out ?? 0)
const usable = computed(() => (made.value.matrix?.documents ?? 0) - (made.value.matrix?.emptied ?? 0))
const methods = useStrandQuery('methods', 0, (strandId) =>
  ask(client.GET('/api/strands/{strand_id}/methods', { params: strandPath(strandId) })),
)
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
const few = computed(() => usable.value > 0 && usable.value < 10 * (settings.value?.topics ?? 0))
const take = useTakeFit()
/** N-grams lie over their words. */
const read = computed(() => count(made.value.matrix?.words || (made.value.matrix?.tokens ?? 0)))
/** Sets of words that were kept at Relate, as lines; the comma keeps a phrase together. */
const keptWords = computed(() => (wanted.value?.seed_words ?? []).map((set) => set.join(', ') + (set[1] ? '' : ',')))
const canTakeWords = computed(() => {
  const given = (settings.value as Record<string, unknown> | undefined)?.seed_words
  return Array.isArray(given) && keptWords.value.some((line) => !given.includes(line))
})
const takeWords = () => (settings.value = { ...settings.value, seed_words: keptWords.value } as Settings)
const otherMethod = (name: string) =>
  (settings.value = methods.data.value?.find((each) => each.method === name)?.suggested ?? settings.value)
</script>

<template>
  <div class="station fit">
    <div class="row wrap spread">
      <h1>
        {{ job ? 'Fitting' : found ? `${found.said.name}, ${found.said.size}` : 'Fit a topic model' }}
      </h1>
      <span class="soft small"
        >{{ method?.about }} on {{ read }} words of {{ counted(usable, 'document')
        }}{{ held ? `, ${count(held)} of them held out at Weigh` : '' }}</span
      >
    </div>
    <p v-if="!ply('matrix')?.identity" class="notice">
      There is no matrix yet. Bring documents in at Gather; cleaning and weighing follow by themselves.
    </p>
    <form v-else-if="settings" class="settings" @submit.prevent="start.mutate(settings)">
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
    <JobNotice v-if="told" :job="told">
      {{ progress?.phase ?? 'Waiting' }}{{ task?.iteration ? `, iteration ${count(task.iteration)}` : '' }}
    </JobNotice>
    <div class="two">
      <section>
        <TraceChart v-if="trace.length > 1" :trace="trace" :watches="watches" />
        <template v-if="!job && found">
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
        </template>
      </section>
      <section>
        <template v-if="task?.top">
          <h2>Topics forming</h2>
          <div v-for="(words, at) in task.top" :key="at" class="topic">
            <Swatch :dye="at" /><span class="book">{{ words.join(' ') }}</span>
          </div>
        </template>
        <template v-else-if="!job && found">
          <h2>Topics, largest first</h2>
          <button
            v-for="topic in topics"
            :key="topic.topic"
            class="plain topic"
            :class="{ selected: isSelected({ topic: topic.topic }) }"
            @click="select({ topic: topic.topic })">
            <Swatch :dye="dye(topic.topic)" />
            <span class="grow">
              <b v-if="topic.label">{{ label(topic.topic) }}</b>
              <span v-if="topic.empty" class="soft">stayed empty</span>
              <span v-else class="book cut words">{{ found.top[topic.topic]?.join(' ') }}</span>
              <span v-if="topic.marked_by" class="soft small">marked by {{ topic.marked_by }}</span>
            </span>
            <span class="soft numbers small">{{ percent(topic.share.mean) }}</span>
          </button>
        </template>
        <p v-else-if="!job && strand && ply('matrix')?.identity" class="soft">
          Press Fit for one model, or compare topic counts at Choose first.
        </p>
      </section>
    </div>
  </div>
</template>

<style scoped>
.fit {
  display: grid;
  gap: 0.9rem;
  align-content: start;
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
.settings input {
  width: 6.4rem;
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
.topic {
  display: flex;
  gap: 0.7rem;
  align-items: center;
  width: 100%;
  padding: 0.35rem 0.2rem;
  border-bottom: 1px solid var(--hairline);
}
.topic:is(button):hover,
.selected {
  background: var(--woad-wash);
}
.words {
  display: block;
}
</style>
