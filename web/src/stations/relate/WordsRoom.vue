<script setup lang="ts">
import { computed } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { strandPath, useStrand, useStrandChange, useStrandQuery } from '@/api/strand'
import { useAddress } from '@/frame/address'
import { useEvidence } from '@/frame/evidence'
import { counted } from '@/marks/format'

import FacingWords from './FacingWords.vue'
import GroupWordTable from './GroupWordTable.vue'
import MakeRow from './MakeRow.vue'
import RoomState from './RoomState.vue'
import WordGrid from './WordGrid.vue'
import { text, useBeside } from './beside'

/** What sets a group's language apart: of a field, of periods, or of what is selected. */
type Settings = Schemas['GroupWordsSettings']
const { choices, tried, set, make, identity, row } = useBeside<Settings>('group_words')
const { ply } = useStrand()
const { get, set: setAddress } = useAddress()
const { request } = useEvidence()
const query = useStrandQuery(
  'group words',
  identity,
  (id) => ask(client.GET('/api/strands/{strand_id}/relate/group-words', { params: strandPath(id) })),
  () => !!identity.value,
)
const found = computed(() => (identity.value ? query.data.value : undefined))
const by = computed(() =>
  tried.value?.field
    ? `field:${tried.value.field}`
    : tried.value?.period
      ? 'period'
      : tried.value?.numbers
        ? 'chosen'
        : '',
)
const periods = ['year', 'quarter', 'month', 'decade'] as const
function choose(value: string) {
  const none = { field: null, period: null, numbers: null, said: '' }
  if (value.startsWith('field:')) set({ ...none, field: value.slice(6) })
  else if (value === 'period') set({ ...none, period: (choices.value?.periods[0] ?? 'year') as Settings['period'] })
}
const selection = useStrandChange((id, body: Record<string, unknown>) =>
  ask(
    client.POST('/api/strands/{strand_id}/relate/group-words/selection', {
      params: strandPath(id),
      body: body as never,
    }),
  ),
)
const look = computed(() => get('look', 'table'))
const group = computed(() => Math.min(Number(get('g', '0')), (found.value?.groups.length ?? 1) - 1))
const against = computed(() => get('vs'))
const facing = computed(() => Number(against.value || (group.value === 0 ? 1 : 0)))
const LOOKS = { table: 'one against the others', faces: 'two face to face', grid: 'words by groups' }
</script>

<template>
  <div class="room">
    <MakeRow v-if="choices && tried" what="the comparison" v-bind="row" @make="make()">
      <label
        >groups by
        <select :value="by" aria-label="Groups by" @change="choose(text($event))">
          <option v-if="!by" value="">choose</option>
          <option v-for="field in choices.fields" :key="field" :value="`field:${field}`">{{ field }}</option>
          <option v-if="choices.periods.length" value="period">period</option>
          <option v-if="by === 'chosen'" value="chosen">{{ tried.said }}</option>
        </select></label
      >
      <label v-if="tried.period"
        >each
        <select :value="tried.period" aria-label="Period" @change="set({ period: text($event) as Settings['period'] })">
          <option v-for="each in periods" :key="each">{{ each }}</option>
        </select></label
      >
      <label
        >what was sampled
        <select :value="tried.unit ?? ''" aria-label="Unit" @change="set({ unit: text($event) || null })">
          <option value="">documents</option>
          <option v-for="unit in choices.units" :key="unit">{{ unit }}</option>
        </select></label
      >
      <button
        v-if="request && ply('matrix')?.state === 'ready'"
        type="button"
        class="plain link small"
        @click="selection.mutate({ ...request })">
        what is selected against all others
      </button>
      <template #hint>Suggested unit: {{ choices.why.group_words }}.</template>
    </MakeRow>
    <template v-if="found">
      <div class="row wrap small">
        <span role="group" aria-label="Look" class="looks">
          <button
            v-for="(title, name) in LOOKS"
            :key="name"
            class="plain"
            :aria-pressed="look === name"
            @click="setAddress({ look: name === 'table' ? '' : name })">
            {{ title }}
          </button>
        </span>
        <template v-if="look !== 'grid'">
          <label
            >group
            <select :value="group" aria-label="Group" @change="setAddress({ g: text($event), wp: '' })">
              <option v-for="each in found.groups" :key="each.group" :value="each.group">
                {{ each.name }} ({{ counted(each.documents, 'document') }})
              </option>
            </select></label
          >
          <label v-if="look === 'faces'"
            >and
            <select :value="facing" aria-label="Other group" @change="setAddress({ vs: text($event) })">
              <option
                v-for="each in found.groups.filter((one) => one.group !== group)"
                :key="each.group"
                :value="each.group">
                {{ each.name }}
              </option>
            </select></label
          >
        </template>
        <span class="soft">{{ found.says }}</span>
      </div>
      <WordGrid v-if="look === 'grid'" :settings="found.settings" />
      <FacingWords v-else-if="look === 'faces'" :group="group" :against="facing" :settings="found.settings" />
      <GroupWordTable v-else :group="group" :settings="found.settings" />
    </template>
    <RoomState v-else :made="!!identity" :fault="query.error.value?.message" what="Reading the words">
      Which words does a group use more than the others, and is that more than chance? Choose what the groups are.
    </RoomState>
  </div>
</template>

<style scoped>
.looks {
  display: flex;
  gap: 1rem;
}
.looks button {
  padding: 0.2rem 0;
  min-height: 24px;
}
.looks [aria-pressed='true'] {
  font-weight: 700;
  box-shadow: inset 0 -2px 0 var(--woad);
}
</style>
