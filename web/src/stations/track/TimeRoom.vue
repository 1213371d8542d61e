<script setup lang="ts">
import { computed, ref } from 'vue'

import { ask, client } from '@/api/client'
import { useMovement, usePrevalence, type Smooth } from '@/api/prevalence'
import { strandPath, useStrandChange, useStrandQuery } from '@/api/strand'
import { useTopics } from '@/api/topics'
import Waiting from '@/frame/Waiting.vue'
import { day } from '@/marks/format'

import BreakdownBar from './BreakdownBar.vue'
import ChangeList from './ChangeList.vue'
import CorrectedChart from './CorrectedChart.vue'
import GroupPages from './GroupPages.vue'
import NotesBelow from './NotesBelow.vue'
import SelectedCell from './SelectedCell.vue'
import TimePanel from './TimePanel.vue'
import TopicChips from './TopicChips.vue'
import { useBreakdown } from './breakdown'
import { useChosenTopics } from './chosen'
import { shareOf } from './prevalence'

/** Shares over time: small multiples by group, smoothed on wish, with events and change points. */
const { by, byGroup, choices, query: asked, group, period, unit, timed, span, get, set } = useBreakdown()
const { sharesBy } = useTopics()
const { chosen } = useChosenTopics()
const page = computed(() => Number(get('page', '1')) || 1)
const smooth = computed(() => get('smooth') as Smooth)
const own = computed(() => get('scale') === 'own')
const tracked = usePrevalence(
  () => ({ ...by.value, topic: chosen.value, page: page.value, smooth: smooth.value || undefined }),
  () => !!choices.value && timed.value,
)
const table = computed(() => tracked.data.value)
/** Those that the table has: a topic that was just added is on its way. */
const shown = computed(() => chosen.value.filter((topic) => table.value?.topics.includes(topic)))
const overall = usePrevalence(
  () => ({ ...byGroup.value, topic: chosen.value, page: page.value }),
  () => !!choices.value && timed.value,
)
const { query: movement } = useMovement(by, () => !!choices.value && timed.value)
const changes = computed(() => (movement.data.value?.changes ?? []).filter((each) => chosen.value.includes(each.topic)))
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
/** The time after a day against the time before it. */
const aroundEvent = (iso: string) => {
  const before = new Date(new Date(`${iso}T00:00:00Z`).getTime() - 86_400_000).toISOString().slice(0, 10)
  set({ part: 'two', a: `${iso}..9999-12-31`, b: `0001-01-01..${before}`, av: '', bv: '' }, true)
}
const panels = computed(() => {
  const given = table.value
  if (!given) return []
  return given.groups.length ? given.groups.map((name, at) => ({ name, at })) : [{ name: '', at: 0 }]
})
/** The highest upper end that is shown, cells of few units aside: of all panels, or of each. */
function topOf(at?: number) {
  const wide = Math.max(1, table.value?.periods.length ?? 1)
  const all = table.value?.cells ?? []
  const cells = (at === undefined ? all : all.slice(at * wide, (at + 1) * wide)).filter((cell) => cell.documents)
  const many = cells.filter((cell) => cell.units >= (table.value?.few ?? 0))
  const highs = (many.length ? many : cells).flatMap((cell) =>
    shown.value.map((k) => {
      const value = shareOf(table.value!, cell, k, !!smooth.value)
      return Math.max(value?.high ?? value?.mean ?? 0, shareOf(table.value!, cell, k)?.mean ?? 0)
    }),
  )
  return Math.max(0.05, ...highs)
}
const top = computed(() => topOf())
const value = (event: Event) => (event.target as HTMLSelectElement).value
const SAID: Record<string, string> = { '': 'as counted' }
const smoothSaid = (each: string) => {
  const [way, amount] = each.split(' ')
  return SAID[each] ?? (way === 'mean' ? `mean of ${amount}` : `LOESS, ${Math.round(100 * Number(amount))} %`)
}
</script>

<template>
  <div class="row wrap">
    <h1>Over time{{ group ? `, by ${group}` : '' }}</h1>
    <span v-if="timed" class="soft small">
      share of {{ sharesBy(by.weight) }} per {{ span }}; band 95 % ({{ unit ?? 'documents' }}
      {{ table?.drawn === false ? 'alone' : 'and posterior draws' }}); ticks n
    </span>
  </div>
  <TopicChips />
  <BreakdownBar>
    <label class="small"
      >line
      <select :value="smooth" aria-label="Smoothing" @change="set({ smooth: value($event) })">
        <option v-for="each in choices?.smooth ?? ['']" :key="each" :value="each">{{ smoothSaid(each) }}</option>
      </select></label
    >
    <label v-if="panels.length > 1" class="small"
      ><input type="checkbox" :checked="own" @change="set({ scale: own ? '' : 'own' })" /> own scales</label
    >
  </BreakdownBar>
  <form v-if="adding" class="row wrap" @submit.prevent="addEvent">
    <label class="small">date <input v-model="newEvent.day" required placeholder="2014-01-14" size="12" /></label>
    <label class="small">what <input v-model="newEvent.label" required maxlength="80" /></label>
    <button class="plain chip">Add</button>
  </form>
  <p class="row wrap small events">
    <button class="plain chip" @click="adding = !adding">+ event</button>
    <span v-for="event in events.data.value" :key="event.id" class="row">
      {{ day(event.day) }} <b>{{ event.label }}</b>
      <button class="plain link" @click="aroundEvent(event.day)">before and after</button>
      <button class="plain" :aria-label="`Remove ${event.label}`" @click="remove.mutate(event.id)">×</button>
    </span>
  </p>
  <p v-if="asked.error.value ?? tracked.error.value" class="notice bad">
    {{ (asked.error.value ?? tracked.error.value)?.message }}
  </p>
  <p v-else-if="choices && !timed" class="notice">
    {{
      choices.dated
        ? 'Choose a period, or days to cut the time at.'
        : 'No document has a date. Give a field the role date at Gather.'
    }}
  </p>
  <template v-else-if="table">
    <div :class="{ waiting: tracked.isPlaceholderData.value }">
      <TimePanel
        v-for="(panel, number) in panels"
        :key="panel.name"
        :table="table"
        :group="panel.at"
        :name="panel.name || 'All documents'"
        :topics="shown"
        :top="own ? topOf(panel.at) : top"
        :events="events.data.value ?? []"
        :changes="changes.filter((each) => each.group === panel.name)"
        :smooth="!!smooth"
        :labels="number === 0"
        :height="panels.length === 1 ? 320 : panels.length < 4 ? 120 : 76"
        :overall="overall.data.value" />
    </div>
    <GroupPages :table="table" />
    <SelectedCell :tables="[table, overall.data.value]" />
    <ChangeList :changes="changes" :note="movement.data.value?.of_changes ?? ''" :made="!!movement.data.value?.made" />
    <CorrectedChart :group="group" :period="group ? undefined : period" :unit="unit" />
    <NotesBelow :table="table" />
  </template>
  <Waiting v-else what="Counting topics" />
</template>

<style scoped>
.events {
  margin: 0;
  gap: 0.2rem 1.4rem;
}
.events .plain {
  min-height: 24px;
}
.waiting {
  opacity: 0.6;
}
</style>
