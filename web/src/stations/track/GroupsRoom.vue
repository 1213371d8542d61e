<script setup lang="ts">
import { computed } from 'vue'

import { useDifferences, useMovement, usePrevalence } from '@/api/prevalence'
import { useTopics } from '@/api/topics'
import JobNotice from '@/frame/JobNotice.vue'
import Waiting from '@/frame/Waiting.vue'
import { useJob } from '@/frame/jobs'

import BreakdownBar from './BreakdownBar.vue'
import CorrectedChart from './CorrectedChart.vue'
import DifferenceChart from './DifferenceChart.vue'
import GroupChart from './GroupChart.vue'
import GroupPages from './GroupPages.vue'
import NotesBelow from './NotesBelow.vue'
import SelectedCell from './SelectedCell.vue'
import TopicChips from './TopicChips.vue'
import { useBreakdown } from './breakdown'
import { useChosenTopics } from './chosen'

/** Shares by group, and each group against all others. */
const { byGroup, choices, query: asked, group, unit, get } = useBreakdown()
const { sharesBy } = useTopics()
const { chosen } = useChosenTopics()
const page = computed(() => Number(get('page', '1')) || 1)
const ready = () => !!choices.value
const tracked = usePrevalence(() => ({ ...byGroup.value, topic: chosen.value, page: page.value }), ready)
const table = computed(() => tracked.data.value)
const shown = computed(() => chosen.value.filter((topic) => table.value?.topics.includes(topic)))
const differing = useDifferences(() => (choices.value ? byGroup.value : {}))
/** Of very many documents the groups are held against each other in a job. */
useMovement(byGroup, () => differing.data.value?.made === false)
const { told } = useJob('tracking')
</script>

<template>
  <div class="row wrap">
    <h1>{{ group ? `By ${group}` : 'All documents' }}</h1>
    <span class="soft small">
      share of {{ sharesBy(byGroup.weight) }}; whisker 95 % ({{ unit ?? 'documents' }}
      {{ table?.drawn === false ? 'alone' : 'and posterior draws' }})
    </span>
  </div>
  <TopicChips />
  <BreakdownBar timeless />
  <p v-if="asked.error.value ?? tracked.error.value" class="notice bad">
    {{ (asked.error.value ?? tracked.error.value)?.message }}
  </p>
  <template v-else-if="table">
    <GroupChart :table="table" :topics="shown" />
    <GroupPages :table="table" />
    <SelectedCell :tables="[table]" />
    <p v-if="differing.error.value" class="notice bad">{{ differing.error.value.message }}</p>
    <DifferenceChart v-if="differing.data.value?.differences.length" :table="differing.data.value" :topics="chosen" />
    <JobNotice v-else-if="differing.data.value?.made === false && told" :job="told" />
    <Waiting v-else-if="differing.isLoading.value" what="Comparing the groups" />
    <CorrectedChart :group="group" :unit="unit" />
    <NotesBelow :table="table" :without="differing.data.value?.without" />
  </template>
  <Waiting v-else what="Counting topics" />
</template>
