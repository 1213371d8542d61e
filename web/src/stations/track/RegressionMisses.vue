<script setup lang="ts">
import { computed } from 'vue'

import type { RegressionTable } from '@/api/regression'
import { useTopics } from '@/api/topics'
import { count, counted, percent } from '@/marks/format'

import { chance } from './prevalence'

/** Where documents hold more or less of a topic than the regression foretells. */
const props = defineProps<{ regressed: RegressionTable['topics'][number] }>()
const { label } = useTopics()
const CLEAR = 0.05
const surely = computed(() => props.regressed.parts.filter((each) => each.p < CLEAR))
const parts = computed(() => (surely.value.length ? surely.value : props.regressed.parts.slice(0, 1)))
</script>

<template>
  <section v-if="regressed.fifths.length">
    <h3>What it misses</h3>
    <table class="numbers small" :aria-label="`What the regression misses of ${label(regressed.topic)}`">
      <thead>
        <tr>
          <th>documents, by what is foretold</th>
          <th>foretold</th>
          <th>hold</th>
          <th>95 %</th>
          <th>documents</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(each, at) in regressed.fifths" :key="at">
          <td>part {{ at + 1 }} of {{ regressed.fifths.length }}</td>
          <td>{{ percent(each.foretold) }}</td>
          <td>{{ percent(each.mean) }}</td>
          <td>
            {{ percent(each.low) }} to {{ percent(each.high) }}
            <span v-if="each.foretold < each.low || each.foretold > each.high" class="bad">beside it</span>
          </td>
          <td>{{ count(each.documents) }}</td>
        </tr>
        <tr v-for="each in parts" :key="each.labels.join()">
          <td>{{ each.terms.map((term, at) => `${term} ${each.labels[at]}`).join(', ') }}</td>
          <td>{{ percent(each.foretold) }}</td>
          <td>{{ percent(each.mean) }}</td>
          <td>{{ percent(each.low) }} to {{ percent(each.high) }} {{ chance(each.p) }}</td>
          <td>{{ count(each.documents) }}</td>
        </tr>
      </tbody>
    </table>
    <p v-if="regressed.parts.length" class="small soft">
      {{
        surely.length
          ? `${counted(surely.length, 'part')} of two terms surely ${surely.length === 1 ? 'holds' : 'hold'} another share than the two foretell: let one depend on the other.`
          : 'No part of two terms surely holds another share than the two foretell; the nearest to it is shown.'
      }}
    </p>
  </section>
</template>

<style scoped>
td,
th {
  text-align: left;
  padding: 0.1rem 0.9rem 0.1rem 0;
  border-bottom: 1px solid var(--hairline);
}
h3 {
  margin: 0;
}
</style>
