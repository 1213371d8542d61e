<script setup lang="ts">
import { computed } from 'vue'

import { useRegressionWorking, type Regression, type RegressionTable } from '@/api/regression'
import { useTopics } from '@/api/topics'
import { useAddress } from '@/frame/address'
import WorkingLines from '@/marks/WorkingLines.vue'
import Swatch from '@/marks/Swatch.vue'
import { percent } from '@/marks/format'

import CopySentence from './CopySentence.vue'
import EffectCurves from './EffectCurves.vue'
import EffectRows from './EffectRows.vue'
import RegressionMisses from './RegressionMisses.vue'
import { chance } from './prevalence'
import { TIME } from './regression'

/** One topic: what each effect foretells, what of it is surely there, and what the regression misses. */
const props = defineProps<{ found: RegressionTable; regressed: RegressionTable['topics'][number]; of: Regression }>()
const { label, dye } = useTopics()
const { get, set } = useAddress()
const point = computed(() => (get('point') === '' ? undefined : Number(get('point'))))
const working = useRegressionWorking(
  () => props.of,
  () => props.regressed.topic,
  point,
)
/** Effects with where their points begin among all; a pair with the time first. */
const effects = computed(() => {
  let first = 0
  return props.found.effects.map((effect, at) => {
    const begins = first
    first += effect.points.length
    return {
      ...{ effect, begins, mine: props.regressed.effects[at] },
      name: effect.terms.join(' × '),
      timed: effect.terms.includes(TIME),
    }
  })
})
const copied = computed(
  () =>
    effects.value.find(
      (each) =>
        point.value !== undefined &&
        each.begins <= point.value &&
        point.value < each.begins + each.effect.points.length,
    ) ?? effects.value.find((each) => each.mine.sure),
)
</script>

<template>
  <div class="topic">
    <h2 class="row">
      <Swatch :dye="dye(regressed.topic)" /> {{ label(regressed.topic) }}
      <small class="soft">all of it tells {{ percent(regressed.explained, 0) }} of how documents scatter</small>
    </h2>
    <section v-for="each in effects" :key="each.name">
      <h3>
        {{ each.name }}
        <small :class="each.mine.sure ? '' : 'soft'">
          {{ each.mine.adjusted === null ? 'can’t be told' : each.mine.sure ? 'surely there' : 'not surely there' }}
          <template v-if="each.mine.adjusted !== null">{{ chance(each.mine.adjusted) }}</template>
        </small>
      </h3>
      <EffectCurves
        v-if="each.timed"
        :found="found"
        :effect="each.effect"
        :topic="regressed.topic"
        :begins="each.begins"
        @pick="set({ point: String($event) })" />
      <EffectRows
        v-else
        :effect="each.effect"
        :topic="regressed.topic"
        :begins="each.begins"
        :found="found"
        @pick="set({ point: String($event) })" />
      <p v-if="each.mine.sentence" class="small sentence">
        {{ each.mine.sentence }} <CopySentence v-if="copied === each" :sentence="each.mine.sentence" />
      </p>
      <div v-if="copied === each && point !== undefined && working.data.value" class="worked">
        <h4>{{ working.data.value.title }}</h4>
        <WorkingLines :lines="working.data.value.lines" />
        <p class="soft small">{{ working.data.value.note }}</p>
      </div>
    </section>
    <RegressionMisses :regressed="regressed" />
  </div>
</template>

<style scoped>
.topic {
  display: grid;
  gap: 0.7rem;
  min-width: 0;
}
h3 {
  margin: 0;
}
small {
  font-family: var(--interface);
  font-weight: 400;
}
.sentence {
  margin: 0.2rem 0 0;
  max-width: 46rem;
}
.worked {
  padding: 0.3rem 0 0.2rem 0.6rem;
}
h4 {
  margin: 0.2rem 0;
}
</style>
