<script setup lang="ts">
import { computed } from 'vue'

import type { ContrastTable } from '@/api/prevalence'
import type { EvidenceRequest } from '@/api/evidence'
import { useTopics } from '@/api/topics'
import { counted, percent } from '@/marks/format'

import DifferenceRows from './DifferenceRows.vue'
import { points } from './prevalence'

/** Every topic of two selections: how much more the one holds. */
const props = defineProps<{ table: ContrastTable; evidence: (topic: number) => EvidenceRequest }>()
const { label } = useTopics()
const rows = computed(() =>
  props.table.topics.map((each) => ({
    ...each,
    key: String(each.topic),
    title: label(each.topic),
    detail: `${percent(each.one.mean)}, ${percent(each.other.mean)}`,
    said: `${label(each.topic)}: ${points(each.difference)} points, ${each.sentence}`,
    evidence: props.evidence(each.topic),
  })),
)
const data = computed(() =>
  props.table.topics.map((each) => [
    label(each.topic),
    each.one.mean,
    each.other.mean,
    each.difference,
    each.low,
    each.high,
    each.p,
    each.adjusted,
  ]),
)
</script>

<template>
  <DifferenceRows
    :title="`${table.one} against ${table.other}`"
    :note="`points of a hundred, 95 % interval; p where it just holds none, adjusted over ${counted(table.topics.length, 'topic')}`"
    name="two-selections"
    :header="['topic', table.one, table.other, 'difference', 'low', 'high', 'p', 'p adjusted']"
    :data="data"
    :rows="rows" />
</template>
