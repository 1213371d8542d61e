<script setup lang="ts">
import { computed, ref } from 'vue'

import { ask, client } from '@/api/client'
import { strandPath, useStrandChange, useStrandQuery } from '@/api/strand'
import { useDifferences, usePrevalence, type Period } from '@/api/prevalence'
import { useTopics } from '@/api/topics'
import { useAddress } from '@/frame/address'
import Waiting from '@/frame/Waiting.vue'
import { useEvidence } from '@/frame/evidence'
import Swatch from '@/marks/Swatch.vue'
import { count, counted, day } from '@/marks/format'

import DifferenceChart from './DifferenceChart.vue'
import GroupChart from './GroupChart.vue'
import TimePanel from './TimePanel.vue'
import { cellAt, chance, estimate, points, resting } from './prevalence'

const { topics, fit, label, dye } = useTopics()
const { get, list, set } = useAddress()
const { request, topic: selectedTopic } = useEvidence()
const chosen = computed(() => {
  const given = list('t')
    .map(Number)
    .filter((at) => topics.value[at])
  return given.length
    ? given
    : topics.value
        .filter((topic) => !topic.set_aside)
        .slice(0, 3)
        .map((topic) => topic.topic)
})
const weight = computed(() => get('weight', 'tokens') as 'tokens' | 'documents')
const group = computed(() =>
  get('by') === 'none' ? undefined : get('by') || (basics.data.value?.suggested_group ?? undefined),
)
const period = computed(() => {
  const asked = get('each') || (basics.data.value?.suggested_period ?? 'none')
  return asked === 'none' ? undefined : (asked as Period)
})
const basics = usePrevalence({})
/** What was sampled: as suggested until chosen; a group can't be its own unit. */
const sampledSuggestion = computed(() => basics.data.value?.suggested_units.find((each) => each.unit !== group.value))
const unit = computed(() => {
  const asked = get('unit') || (sampledSuggestion.value?.unit ?? 'documents')
  return asked === 'documents' || asked === group.value ? undefined : asked
})
const page = computed(() => Number(get('page', '1')) || 1)
const sampled = computed(() => ({ group: group.value, weight: weight.value, unit: unit.value }))
const tracked = usePrevalence(
  () => ({ ...sampled.value, period: period.value, page: page.value }),
  () => !!basics.data.value,
)
const table = computed(() => tracked.data.value)
const byGroup = usePrevalence(
  () => ({ ...sampled.value, page: page.value }),
  () => !!group.value && !!basics.data.value,
)
const differing = useDifferences(() => (basics.data.value ? sampled.value : {}))
const events = useStrandQuery('events', 0, (id) =>
  ask(client.GET('/api/strands/{strand_id}/events', { params: strandPath(id) })),
)
const add = useStrandChange((id, body: { day: string; label: string }) =>
  ask(client.POST('/api/strands/{strand_id}/events', { params: strandPath(id), body })),
)
const remove = useStrandChange((id, event: number) =>
  ask(
    client.DELETE('/api/strands/{strand_id}/events/{event_id}', {
      params: { path: { strand_id: id, event_id: event } },
    }),
  ),
)
const newEvent = ref({ day: '', label: '' })
const adding = ref(false)
async function addEvent() {
  await add.mutateAsync({ ...newEvent.value }).then(
    () => {
      newEvent.value = { day: '', label: '' }
      adding.value = false
    },
    () => undefined,
  )
}
function toggle(topic: number) {
  const next = chosen.value.includes(topic) ? chosen.value.filter((each) => each !== topic) : [...chosen.value, topic]
  if (next.length) set({ t: next.map(String) })
}
const panels = computed(() => {
  const given = table.value
  if (!given) return []
  return given.groups.length ? given.groups.map((name, at) => ({ name, at })) : [{ name: '', at: 0 }]
})
/** One scale for all panels: the highest upper end that is shown, cells of few units aside. */
const top = computed(() => {
  const cells = (table.value?.cells ?? []).filter((cell) => cell.documents)
  const many = cells.filter((cell) => cell.units >= (table.value?.few ?? 0))
  const highs = (many.length ? many : cells).flatMap((cell) =>
    chosen.value.map((k) => cell.values[k]?.high ?? cell.values[k]?.mean ?? 0),
  )
  return Math.max(0.05, ...highs)
})
/** What is selected, where one of the tables has exactly that. */
const said = computed(() => {
  const choice = request.value
  const topic = selectedTopic.value
  if (topic === undefined) return null
  const tables = [table.value, byGroup.data.value].filter((each) => each !== undefined)
  const cell = tables
    .map((each) => cellAt(each, choice?.value ?? null, choice?.at ?? null))
    .find((each) => each !== null)
  if (!cell) return null
  const against = choice?.at
    ? undefined
    : differing.data.value?.differences.find((each) => each.topic === topic && each.group === choice?.value)
  return { topic, cell, value: cell.values[topic], against }
})
const fewest = computed(() => {
  const units = (table.value?.cells ?? []).map((cell) => cell.units).filter((each) => each > 0)
  return { few: units.filter((each) => each < (table.value?.few ?? 0)).length, all: units.length }
})
const unitOptions = computed(() =>
  ['documents', ...(basics.data.value?.unit_fields ?? [])].filter((each) => each !== group.value),
)
const missing = computed(() => [group.value, period.value ? 'date' : ''].filter(Boolean).join(' or '))
const asSuggested = computed(() => get('by') === '' && get('each') === '')
const options = computed(() => ['none', ...(basics.data.value?.group_fields ?? [])])
const value = (event: Event) => (event.target as HTMLSelectElement).value
</script>

<template>
  <div class="station track">
    <p v-if="!fit">There are no topics yet. <RouterLink to="choose">Choose a count</RouterLink> first.</p>
    <template v-else>
      <div class="row wrap">
        <h1>Prevalence{{ group ? ` by ${group}` : '' }}</h1>
        <span class="soft small">
          share of {{ weight }}{{ period ? ` per ${period}` : '' }}; {{ period ? 'band' : 'whisker' }} 95 % ({{
            unit ?? 'documents'
          }}
          and posterior draws){{ period ? '; ticks n' : '' }}
        </span>
      </div>
      <div class="row wrap controls">
        <span class="row wrap grow">
          <button
            v-for="topic in chosen"
            :key="topic"
            class="plain chip"
            :title="`Take ${label(topic)} off the charts`"
            @click="toggle(topic)">
            <Swatch :dye="dye(topic)" /> {{ label(topic) }} ×
          </button>
          <select value="" aria-label="Add a topic" @change="toggle(Number(value($event)))">
            <option value="" disabled>+ topic</option>
            <option
              v-for="topic in topics.filter((each) => !chosen.includes(each.topic))"
              :key="topic.topic"
              :value="topic.topic">
              {{ label(topic.topic) }}
            </option>
          </select>
        </span>
        <label class="small"
          >by
          <select :value="group ?? 'none'" aria-label="Group field" @change="set({ by: value($event), page: '' })">
            <option v-for="each in options" :key="each">{{ each }}</option>
          </select></label
        >
        <label class="small"
          >each
          <select :value="period ?? 'none'" aria-label="Period" @change="set({ each: value($event) })">
            <option v-for="each in ['none', ...(basics.data.value?.all_periods ?? [])]" :key="each">
              {{ each }}
            </option>
          </select></label
        >
        <label class="small"
          >of
          <select
            :value="weight"
            aria-label="Weight"
            @change="set({ weight: value($event) === 'tokens' ? '' : value($event) })">
            <option>tokens</option>
            <option>documents</option>
          </select></label
        >
        <label class="small"
          >sampled
          <select :value="unit ?? 'documents'" aria-label="Sampled unit" @change="set({ unit: value($event) })">
            <option v-for="each in unitOptions" :key="each">{{ each }}</option>
          </select></label
        >
        <button class="plain chip" @click="adding = !adding">+ event</button>
      </div>
      <form v-if="adding" class="row wrap" @submit.prevent="addEvent">
        <label class="small">date <input v-model="newEvent.day" required placeholder="2014-01-14" size="12" /></label>
        <label class="small">what <input v-model="newEvent.label" required maxlength="80" /></label>
        <button class="plain chip">Add</button>
        <button
          v-for="event in events.data.value"
          :key="event.id"
          type="button"
          class="plain small soft"
          :aria-label="`Remove ${event.label}`"
          @click="remove.mutate(event.id)">
          {{ day(event.day) }} {{ event.label }} ×
        </button>
      </form>
      <p v-if="tracked.error.value" class="notice bad">{{ tracked.error.value.message }}</p>
      <template v-else-if="table">
        <template v-if="period">
          <TimePanel
            v-for="(panel, number) in panels"
            :key="panel.name"
            :table="table"
            :group="panel.at"
            :name="panel.name || 'All documents'"
            :topics="chosen"
            :top="top"
            :events="events.data.value ?? []"
            :labels="number === 0"
            :tall="panels.length === 1"
            :overall="byGroup.data.value" />
        </template>
        <GroupChart v-else :table="table" :topics="chosen" />
        <div v-if="table.pages > 1" class="row small">
          <button class="plain chip" :disabled="page < 2" @click="set({ page: String(page - 1) })">←</button>
          {{ table.group }} {{ count(table.first) }} to {{ count(table.first + table.groups.length - 1) }} of
          {{ count(table.all_groups) }}, the largest first
          <button class="plain chip" :disabled="page >= table.pages" @click="set({ page: String(page + 1) })">→</button>
        </div>
        <p v-if="said" class="said book">
          Selected: <b>{{ label(said.topic) }}</b> {{ estimate(said.value, table.least) }}, {{ resting(said.cell)
          }}<template v-if="said.against"
            >; {{ points(said.against.difference) }} points against all others ({{ points(said.against.low) }} to
            {{ points(said.against.high) }}, {{ chance(said.against.adjusted) }})</template
          >.
        </p>
        <DifferenceChart
          v-if="differing.data.value?.differences.length"
          :table="differing.data.value"
          :topics="chosen" />
        <Waiting v-else-if="differing.isLoading.value" what="Comparing the groups" />
        <p class="soft small">
          <template v-if="table.left_out"
            >{{ counted(table.left_out, 'document') }} without {{ missing }}
            {{ table.left_out === 1 ? 'is' : 'are' }} left out.
          </template>
          <template v-if="asSuggested">Suggested: {{ table.suggestion }}. </template>
          <template v-if="!get('unit')"
            >Taken as sampled:
            {{
              sampledSuggestion
                ? `${sampledSuggestion.unit}, since ${sampledSuggestion.why}`
                : 'single documents, since those of no other field are clearly alike'
            }}.
          </template>
          {{ [table.group ? table.of_differences : '', table.of_seeds].filter(Boolean).join(' ') }}
          <template v-if="fewest.few"
            >{{ count(fewest.few) }} of {{ counted(fewest.all, 'cell') }} {{ fewest.few === 1 ? 'rests' : 'rest' }} on
            fewer than {{ table.few }} units and {{ fewest.few === 1 ? 'is' : 'are' }} drawn faint; fewer than
            {{ table.least }} get no interval.
          </template>
          <template v-if="differing.data.value?.without.length"
            >Not compared, for fewer than {{ table.least }} units: {{ differing.data.value.without.join(', ') }}.
          </template>
        </p>
      </template>
      <Waiting v-else what="Counting topics and drawing documents anew for the intervals" />
    </template>
  </div>
</template>

<style scoped>
.controls > .grow {
  flex-basis: 100%;
}
.track {
  display: grid;
  gap: 0.6rem;
  align-content: start;
}
.said {
  border-left: 3px solid var(--woad);
  padding-left: 0.8rem;
  margin-top: 0.4rem;
}
.controls select {
  max-width: 6.5rem;
}
</style>
