<script setup lang="ts">
import { computed, ref, watch } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { strandPath, useStrandQuery } from '@/api/strand'
import { useRooms } from '@/frame/rooms'
import ChartFrame from '@/marks/ChartFrame.vue'
import { count, counted } from '@/marks/format'

import CountWorking from './CountWorking.vue'
import CountsChart from './CountsChart.vue'
import GroupingChoice from './GroupingChoice.vue'
import MakeRow from './MakeRow.vue'
import RoomState from './RoomState.vue'
import { text, useBeside } from './beside'

/** Groupings into few and into many groups, measured, beside the same words dealt out at random. */
type Settings = Schemas['GroupCountsSettings']
const { choices, tried, set, make, identity, row } = useBeside<Settings>('group_counts')
const groups = useBeside<Schemas['GroupsSettings']>('groups')
const { go } = useRooms()
const query = useStrandQuery(
  'group counts',
  identity,
  (strand) => ask(client.GET('/api/strands/{strand_id}/relate/group-counts', { params: strandPath(strand) })),
  () => !!identity.value,
)
const found = computed(() => (identity.value ? query.data.value : undefined))
/** The number of groups whose measures are worked out. */
const shown = ref<number>()
watch(identity, () => (shown.value = undefined))
const rows = computed(() =>
  (found.value?.measures ?? []).flatMap((measure) =>
    measure.values.flatMap((row, at) =>
      row.map((value, seed) => [measure.title, found.value!.counts[at], seed + 1, value, measure.twin[at][seed]]),
    ),
  ),
)
/** Group the documents into so many, as they were grouped here. */
function take(number: number) {
  const { method, weighting, spherical, distance, sample } = found.value!.settings
  groups.make({ groups: number, method, weighting, spherical, distance, sample })
  go('groups')
}
</script>

<template>
  <div class="room">
    <MakeRow
      v-if="choices && tried"
      what="the comparison"
      v-bind="row"
      :preview="choices.preview"
      @make="make({ sample: 0 })"
      @preview="make({ sample: choices.preview })">
      <label v-for="name in ['fewest', 'most', 'step', 'seeds'] as const" :key="name"
        >{{ name === 'fewest' ? 'groups from' : name === 'most' ? 'to' : name }}
        <input
          type="number"
          :min="name === 'step' ? 1 : 2"
          max="500"
          :value="tried[name]"
          :aria-label="name"
          @change="set({ [name]: Number(text($event)) })"
      /></label>
      <GroupingChoice :choices="choices" :value="tried" @change="set($event)" />
      <template #hint>Suggested weights: {{ choices.why.groups }}.</template>
    </MakeRow>
    <template v-if="found">
      <p class="verdict">{{ found.says }}</p>
      <ChartFrame
        :title="`${count(found.counts[0])} to ${count(found.counts.at(-1) ?? 0)} groups of ${counted(found.documents, 'document')}`"
        note="points: seeds; line and band: their mean and range; grey: the same words dealt out at random. A point opens to its working."
        name="group-counts"
        :header="['measure', 'groups', 'seed or pair', 'value', 'dealt out at random']"
        :rows="rows">
        <CountsChart :counts="found.counts" :measures="found.measures" @pick="shown = $event" />
      </ChartFrame>
      <CountWorking v-if="shown" :groups="shown" @take="take(shown)" />
    </template>
    <RoomState v-else :made="!!identity" :fault="query.error.value?.message" what="Reading the comparison">
      Few groups are easy to name, many are alike within. This groups the documents into every number in between, from
      several starts, and shows where more groups stop paying.
    </RoomState>
  </div>
</template>

<style scoped>
.verdict {
  border-left: 3px solid var(--lichen);
  background: var(--lichen-wash);
  padding: 0.5rem 0.8rem;
}
</style>
