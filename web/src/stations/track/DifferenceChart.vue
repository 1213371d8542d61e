<script setup lang="ts">
import { computed } from 'vue'

import type { DifferenceTable } from '@/api/prevalence'
import { useTopics } from '@/api/topics'
import { counted } from '@/marks/format'

import DifferenceRows from './DifferenceRows.vue'
import { chance, points } from './prevalence'

/** How much more or less of a topic a group holds than all others together. */
const props = defineProps<{ table: DifferenceTable; topics: number[] }>()
const { label } = useTopics()
const MOST = 40
const all = computed(() => props.table.differences.filter((each) => props.topics.includes(each.topic)))
const rows = computed(() =>
  all.value.slice(0, MOST).map((each) => ({
    ...each,
    key: `${each.group} ${each.topic}`,
    title: each.group,
    detail: label(each.topic),
    said: `${label(each.topic)}, ${each.group} against all others: ${points(each.difference)} (${points(each.low)} to ${points(each.high)}), ${chance(each.adjusted)}`,
    evidence: { topic: each.topic, field: props.table.group, value: each.group },
  })),
)
const data = computed(() =>
  all.value.map((each) => [each.group, label(each.topic), each.difference, each.low, each.high, each.p, each.adjusted]),
)
const units = computed(() => (props.table.unit ? `values of ${props.table.unit}` : 'documents'))
const note = computed(
  () =>
    `points of a hundred, 95 % interval over ${units.value}; p where the interval just holds none, adjusted over ${counted(props.table.compared, 'comparison')}` +
    (all.value.length > MOST ? `; the clearest ${MOST} of ${all.value.length}` : ''),
)
</script>

<template>
  <DifferenceRows
    :title="`Each ${table.group} against all others`"
    :note="note"
    name="differences"
    :header="[table.group, 'topic', 'difference', 'low', 'high', 'p', 'p adjusted']"
    :data="data"
    :rows="rows" />
</template>
