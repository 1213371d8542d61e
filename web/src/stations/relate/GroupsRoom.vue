<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { strandPath, useStrand, useStrandChange, useStrandQuery } from '@/api/strand'
import { useAddress } from '@/frame/address'
import { useEvidence } from '@/frame/evidence'
import { say } from '@/frame/notices'
import ThreadRows from '@/marks/ThreadRows.vue'
import { colour, patternId } from '@/marks/dyes'
import { count, counted, decimal, percent } from '@/marks/format'

import GroupingChoice from './GroupingChoice.vue'
import GroupList from './GroupList.vue'
import GroupsCompared from './GroupsCompared.vue'
import MakeRow from './MakeRow.vue'
import RoomState from './RoomState.vue'
import WorkingLines from '@/marks/WorkingLines.vue'
import { text, useBeside } from './beside'

/** Documents in groups: what each is, its words, its borders, how they fall over a field. */
type Settings = Schemas['GroupsSettings']
const { choices, tried, set, make, identity, row } = useBeside<Settings>('groups')
const { strand } = useStrand()
const { get, set: setAddress } = useAddress()
const { request, select, isSelected } = useEvidence()
const query = useStrandQuery(
  'groups',
  identity,
  (id) => ask(client.GET('/api/strands/{strand_id}/relate/groups', { params: strandPath(id) })),
  () => !!identity.value,
)
const found = computed(() => (identity.value ? query.data.value : undefined))
const chosen = computed(() => found.value?.groups[Number(get('g', '0'))] ?? found.value?.groups[0])
function choose(group: number) {
  setAddress({ g: group ? String(group) : '' })
  select({ members: group })
}
const name = (group: number | null | undefined) => (group == null ? '' : (found.value?.groups[group]?.name ?? ''))
const words = computed(() =>
  (chosen.value?.words ?? []).map((word) => ({
    key: word.term,
    label: word.display,
    value: word.log_odds,
    figure: `${decimal(word.log_odds, 1)} · ${count(word.inside)}`,
    said: `${word.display}: weighted log odds ${decimal(word.log_odds)}, ${counted(word.inside, 'time')} in the group, log ratio ${decimal(word.log_ratio)}`,
    knot: 3,
    evidence: { term: word.term, group: chosen.value?.group },
  })),
)
/** The word of the group that is selected: its figures are worked out, or else the group's. */
const word = computed(() => (Number(request.value?.group) === chosen.value?.group ? (request.value?.term ?? '') : ''))
const worked = (event: Event) => setAddress({ worked: (event.target as HTMLDetailsElement).open ? '1' : '' })
const working = useStrandQuery(
  'working of a group',
  () => [identity.value, chosen.value?.group, word.value],
  (id) =>
    ask(
      client.GET('/api/strands/{strand_id}/relate/groups/working', {
        params: { ...strandPath(id), query: { group: chosen.value?.group ?? 0, term: word.value || undefined } },
      }),
    ),
  () => !!chosen.value && get('worked') === '1',
)
const field = ref('sorted')
const keep = useStrandChange((id, name: string) =>
  ask(
    client.POST('/api/strands/{strand_id}/relate/groups/field', {
      params: strandPath(id),
      body: { name, revision: strand.value?.revision ?? 1 },
    }),
  ).then(() => say(`The groups are the field “${name}” after the next rebuild (r).`)),
)
</script>

<template>
  <div class="room">
    <MakeRow
      v-if="choices && tried"
      what="the groups"
      v-bind="row"
      :preview="choices.preview"
      @make="make({ sample: 0 })"
      @preview="make({ sample: choices.preview })">
      <label
        >groups
        <input
          type="number"
          min="2"
          max="500"
          :value="tried.groups"
          aria-label="Number of groups"
          @change="set({ groups: Number(text($event)) })"
      /></label>
      <GroupingChoice :choices="choices" :value="tried" @change="set($event)" />
      <label
        >seed
        <input
          type="number"
          min="0"
          :value="tried.seed"
          aria-label="Seed"
          @change="set({ seed: Number(text($event)) })"
      /></label>
      <template #hint>Suggested weights: {{ choices.why.groups }}.</template>
    </MakeRow>
    <template v-if="found && chosen">
      <p class="soft small">
        {{ counted(found.documents, 'document') }} in {{ counted(found.groups.length, 'group') }}: {{ found.says }}.
        {{ percent(found.between) }} of the {{ found.measure }} lies between groups (within
        {{ decimal(found.within, 1) }} of {{ decimal(found.total, 1) }}).
        <template v-if="found.left_out"
          >{{ counted(found.left_out, 'document') }}
          {{ found.settings.sample ? 'were not in the preview or have no counted word' : 'without a counted word' }} in
          none.</template
        >
      </p>
      <div class="two">
        <GroupList :found="found" :chosen="chosen.group" @pick="choose" />
        <section class="one">
          <h2>{{ chosen.name }}</h2>
          <p class="small soft">
            {{ counted(chosen.size, 'document') }}, {{ percent(chosen.share) }}; mean {{ found.measure }} from the
            middle {{ decimal(chosen.mean_apart) }}, {{ decimal(chosen.within, 1) }} in all.
          </p>
          <ThreadRows
            :rows="words"
            :title="`Words of ${chosen.name}`"
            :colour="colour(chosen.group)"
            :fill="`url(#${patternId(chosen.group)})`"
            :high="22"
            :figure="86" />
          <p class="small soft">weighted log odds against all other documents · times in the group</p>
          <details class="small" :open="get('worked') === '1'" @toggle="worked">
            <summary>worked out{{ word ? `: ${word}` : '' }}</summary>
            <WorkingLines v-if="working.data.value" :lines="working.data.value.lines" />
          </details>
          <div class="row wrap small">
            <button class="plain link" @click="select({ document: chosen.medoid })">
              nearest to the middle: {{ chosen.medoid_name }}
            </button>
            <button class="plain link" @click="select({ members: chosen.group })">members, the nearest first</button>
            <button
              class="plain link"
              :class="{ selected: isSelected({ members: chosen.group, border: true }) }"
              @click="select({ members: chosen.group, border: true })">
              {{ counted(chosen.border, 'document') }} at a border{{
                chosen.next_group == null ? '' : `, most to ${name(chosen.next_group)}`
              }}
            </button>
          </div>
        </section>
      </div>
      <GroupsCompared :found="found" />
      <form class="row wrap small" @submit.prevent="keep.mutate(field)">
        <label
          >keep the groups as a field <input v-model="field" required maxlength="100" aria-label="Name of the field"
        /></label>
        <Button type="submit" size="small" severity="secondary" label="Keep" :loading="keep.isPending.value" />
        <span class="soft">It can then be filtered, tracked and compared like any other.</span>
      </form>
    </template>
    <RoomState v-else :made="!!identity" :fault="query.error.value?.message" what="Reading the groups">
      Documents with the same words form a group. How many there are is for you to say; How many groups compares the
      numbers first.
    </RoomState>
  </div>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: minmax(0, 1.15fr) minmax(0, 1fr);
  gap: 1.6rem;
}
.one {
  display: grid;
  gap: 0.3rem;
  align-content: start;
}
</style>
