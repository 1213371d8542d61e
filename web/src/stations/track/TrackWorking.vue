<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '@/api/client'
import { useEvidence } from '@/frame/evidence'
import WorkingLines from '@/marks/WorkingLines.vue'
import { count, percent } from '@/marks/format'

/** How an estimate came about, with the units behind it and the share in every saved sample. */
const props = defineProps<{ working: Schemas['ShareWorking'] | Schemas['ContrastWorking'] }>()
const { read } = useEvidence()
const draws = computed(() => ('draws' in props.working ? (props.working.draws ?? []) : []))
const sided = computed(() => props.working.units?.some((each) => each.side))
</script>

<template>
  <div class="worked">
    <h3>{{ working.title }}</h3>
    <WorkingLines :lines="working.lines" />
    <p v-if="draws.length" class="small">
      In each saved sample: <span class="numbers">{{ draws.map((each) => percent(each, 2)).join(', ') }}</span>
    </p>
    <table v-if="working.units?.length" class="numbers small">
      <thead>
        <tr>
          <th>unit</th>
          <th v-if="sided">side</th>
          <th>tokens of the topic</th>
          <th>tokens</th>
          <th>share</th>
          <th>part of the whole</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="each in working.units" :key="`${each.side} ${each.name}`">
          <td>
            <button v-if="each.document !== null" class="plain link" @click="read(each.document!)">
              {{ each.name }}
            </button>
            <template v-else>{{ each.name }}</template>
          </td>
          <td v-if="sided">{{ each.side }}</td>
          <td>{{ each.of_topic.toFixed(1) }}</td>
          <td>{{ count(each.tokens) }}</td>
          <td>{{ percent(each.of_topic / each.tokens) }}</td>
          <td>{{ percent(each.part, 2) }}</td>
        </tr>
      </tbody>
    </table>
    <p class="soft small">The units that hold most of the topic. {{ working.note }}</p>
  </div>
</template>

<style scoped>
.worked {
  padding: 0.3rem 0 0.2rem 0.6rem;
}
td,
th {
  text-align: left;
  padding: 0.1rem 1rem 0.1rem 0;
  border-bottom: 1px solid var(--hairline);
}
</style>
