<script setup lang="ts">
import { computed } from 'vue'

import { useMovement } from '@/api/prevalence'
import JobNotice from '@/frame/JobNotice.vue'
import Waiting from '@/frame/Waiting.vue'
import { useJob } from '@/frame/jobs'

import BreakdownBar from './BreakdownBar.vue'
import GroupWeave from './GroupWeave.vue'
import MovingTopic from './MovingTopic.vue'
import WhySuggested from './WhySuggested.vue'
import { useBreakdown } from './breakdown'

/** Every topic over time and between groups, those first that move most surely. */
const { by, choices, query: asked, group, timed, get, set } = useBreakdown()
const { query, again } = useMovement(by, () => !!choices.value && (timed.value || !!group.value))
const { told } = useJob('tracking')
const found = computed(() => query.data.value)
const grid = computed(() => get('as') === 'grid' && !!group.value)
const order = computed(() =>
  get('first') === 'groups' && group.value ? 'between' : timed.value ? 'over_time' : 'between',
)
const topics = computed(() => {
  const key = order.value
  return [...(found.value?.topics ?? [])].sort(
    (a, b) =>
      Number(b[key]?.sure ?? false) - Number(a[key]?.sure ?? false) ||
      (b[key]?.strength ?? -1) - (a[key]?.strength ?? -1),
  )
})
const sure = computed(() => topics.value.filter((each) => each[order.value]?.sure))
const rest = computed(() => topics.value.filter((each) => !each[order.value]?.sure))
/** One scale for all lines: the highest share that is shown. */
const top = computed(() =>
  Math.max(0.02, ...(found.value?.topics ?? []).flatMap((each) => each.line.map((cell) => cell?.mean ?? 0))),
)
const parts = computed(() => [
  { name: `Surely ${order.value === 'over_time' ? 'moving' : 'different'}`, topics: sure.value },
  { name: `Not surely ${order.value === 'over_time' ? 'moving' : 'different'}`, topics: rest.value },
])
</script>

<template>
  <p v-if="asked.error.value" class="notice bad">{{ asked.error.value.message }}</p>
  <p v-if="query.error.value" class="notice bad">{{ query.error.value.message }}</p>
  <h1>
    {{ timed && group ? 'What moves, what differs' : group ? 'What differs' : 'What moves' }}
  </h1>
  <BreakdownBar>
    <span v-if="group" role="group" aria-label="Shown as" class="row small">
      <button class="plain link" :aria-pressed="!grid" @click="set({ as: '' })">topics</button>
      <button class="plain link" :aria-pressed="grid" @click="set({ as: 'grid' })">groups × topics</button>
    </span>
  </BreakdownBar>
  <p v-if="!timed && !group" class="notice">
    Choose a field to group by{{ choices?.dated ? ', a period, or both' : '; no document has a date' }}.
  </p>
  <template v-else>
    <Waiting v-if="!found && !query.error.value" what="Counting topics" />
    <template v-if="found">
      <p v-if="found.says.length" class="outcome">{{ found.says.join('; ') }}.</p>
      <section class="could" aria-label="What these documents could show">
        <p v-if="found.could.length">
          <b>Four times in five these documents would show:</b>
          <span v-for="(each, at) in found.could" :key="each">{{ at ? '; ' : ' ' }}{{ each }}</span
          >.
        </p>
        <p v-else-if="!told" class="row">
          <span>What moves is not worked out.</span>
          <button class="plain chip" @click="again()">Work it out</button>
        </p>
        <p v-if="found.rests">{{ found.rests }}</p>
        <JobNotice v-if="told" :job="told" />
      </section>
      <GroupWeave v-if="grid && found.made" :found="found" :timed="timed" :order="topics.map((each) => each.topic)" />
      <div v-else class="rows" :class="{ both: timed && group, waiting: query.isPlaceholderData.value }">
        <div class="head small soft">
          <span>topic</span>
          <span v-if="timed" class="wide"
            ><button class="plain" :class="{ by: order === 'over_time' }" @click="set({ first: '' })">over time</button>
            scale to {{ Math.round(100 * top) }} %</span
          >
          <span v-if="group"
            ><button class="plain" :class="{ by: order === 'between' }" @click="set({ first: 'groups' })">
              by {{ group }}
            </button></span
          >
        </div>
        <template v-for="part in parts" :key="part.name">
          <h2 v-if="found.made">{{ part.name }} <small v-if="!part.topics.length" class="soft">none</small></h2>
          <MovingTopic
            v-for="each in part.topics"
            :key="each.topic"
            :moving="each"
            :found="found"
            :top="top"
            :timed="timed"
            :kind="order" />
        </template>
      </div>
      <p class="soft small">
        <WhySuggested />
        {{ found.test }} {{ found.of_changes }}
      </p>
    </template>
  </template>
</template>

<style scoped>
.outcome {
  font-family: var(--heading);
  font-size: 1.15rem;
  margin: 0;
}
.could {
  border-left: 3px solid var(--woad);
  padding-left: 0.8rem;
}
.could p {
  margin-bottom: 0.25rem;
}
.waiting {
  opacity: 0.6;
}
.head {
  display: grid;
  grid-template-columns: var(--columns);
  gap: 0 0.9rem;
}
.rows {
  --columns: 10.5rem minmax(9rem, 1fr) minmax(9rem, 1.1fr);
}
.rows.both {
  --columns: 9.5rem minmax(8rem, 1fr) minmax(8rem, 1fr) minmax(7rem, 0.8fr) minmax(7rem, 0.9fr);
}
.wide {
  grid-column: span 2;
}
.by {
  color: var(--ink);
  font-weight: 700;
  text-decoration: underline;
}
h2 {
  margin: 0.5rem 0 0.1rem;
  border-bottom: 1px solid var(--soft);
}
[aria-pressed='true'] {
  color: var(--ink);
  text-decoration: none;
  font-weight: 700;
}
</style>
