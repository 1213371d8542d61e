<script setup lang="ts">
import { computed } from 'vue'

import Waiting from '@/frame/Waiting.vue'
import { useEvidence } from '@/frame/evidence'
import BarRow from '@/marks/BarRow.vue'
import WorkingLines from '@/marks/WorkingLines.vue'
import { counted, decimal } from '@/marks/format'

import { useChosenFit, useFits, useHow, useMeasureWorking } from './choose'

/** How a measure of a fit came about: its topics, their pairs of words with the windows that hold them, its matches. */
const { get, set } = useHow()
const { found, query: fits } = useFits()
const { select, read, isSelected } = useEvidence()
const fit = useChosenFit()
const measures = computed(() => found.value?.measures ?? [])
const measure = computed(
  () => measures.value.find((each) => each.key === get('measure')) ?? measures.value.find(() => true),
)
const topic = computed(() => Number(get('topic') || 0))
const query = useMeasureWorking(
  () => fit.value?.identity,
  () => measure.value?.key,
  topic,
)
const shown = computed(() => query.data.value)
const value = (event: Event) => (event.target as HTMLSelectElement).value
const most = computed(() => Math.max(1e-9, ...(shown.value?.topics ?? []).map((each) => Math.abs(each.value ?? 0))))
const evidence = (terms: string[]) => ({ term: terms[0], with_term: terms[1] })
</script>

<template>
  <Waiting v-if="!found && !fits.error.value" what="Looking for fits of this matrix" />
  <p v-else-if="!fit" class="soft">No fit has been made of this matrix yet. Start a sweep at Counts.</p>
  <template v-else>
    <div class="row wrap">
      <label
        >measure
        <select :value="measure?.key" aria-label="Measure" @change="set({ measure: value($event) })">
          <option v-for="each in measures" :key="each.key" :value="each.key">{{ each.title }}</option>
        </select></label
      >
      <label
        >of
        <select :value="fit.identity" aria-label="Fit" @change="set({ fit: value($event), topic: '' })">
          <option v-for="each in found?.fits" :key="each.identity" :value="each.identity">
            {{ each.settings.topics }} topics, seed {{ each.settings.seed }}
          </option>
        </select></label
      >
    </div>
    <p v-if="query.error.value" class="notice bad">{{ query.error.value.message }}</p>
    <Waiting v-else-if="!shown" what="Working it out" />
    <template v-else>
      <p class="soft">{{ shown.title }} rewards {{ measure?.rewards }}. {{ shown.note }}</p>
      <WorkingLines :lines="shown.lines" />
      <div class="two" :class="{ waiting: query.isPlaceholderData.value }">
        <section v-if="shown.topics.length" aria-label="Its topics">
          <h2>Its topics</h2>
          <BarRow
            v-for="each in shown.topics"
            :key="each.topic"
            :label="each.title"
            :value="Math.abs(each.value ?? 0)"
            :most="most"
            :said="each.value === null ? '' : decimal(each.value, 3)"
            :selected="each.topic === shown.topic"
            @pick="set({ topic: String(each.topic) })" />
        </section>
        <section v-if="shown.parts.length" aria-label="Its parts">
          <h2>
            {{
              shown.parts[0].terms.length > 1 ? 'Pairs of its words, the weakest first' : 'Its words, the weakest first'
            }}
          </h2>
          <table>
            <tbody>
              <tr
                v-for="each in shown.parts"
                :key="each.terms.join(' ')"
                :class="{ selected: isSelected(evidence(each.terms)) }">
                <td class="book">
                  <button class="plain link" @click="select(evidence(each.terms))">
                    {{ each.display.join(' · ') }}
                  </button>
                </td>
                <td class="right numbers">{{ decimal(each.value, 3) }}</td>
                <td class="soft small">{{ each.numbers }}</td>
              </tr>
            </tbody>
          </table>
        </section>
        <section v-if="shown.matches.length" aria-label="Its matches">
          <h2>In the fits of other seeds</h2>
          <table>
            <tbody>
              <tr v-for="each in shown.matches" :key="each.fit">
                <td class="soft">seed {{ each.seed }}</td>
                <td class="book">
                  <button
                    class="plain link"
                    @click="
                      select({ of_fit: each.fit, other_fit: fit!.identity, was: shown!.topic ?? 0, now: each.topic })
                    ">
                    {{ each.title }}
                  </button>
                </td>
                <td class="right numbers">{{ decimal(each.cosine, 3) }}</td>
              </tr>
            </tbody>
          </table>
        </section>
        <section v-if="shown.foretold.length" aria-label="Documents foretold">
          <h2>Documents held out, the worst foretold first</h2>
          <table>
            <tbody>
              <tr v-for="each in shown.foretold" :key="each.document">
                <td>
                  <button class="plain link" @click="read(each.document)">{{ each.name }}</button>
                </td>
                <td class="soft small">{{ counted(each.words, 'word') }} foretold</td>
                <td class="right numbers">{{ decimal(each.better, 3) }}</td>
              </tr>
            </tbody>
          </table>
        </section>
      </div>
    </template>
  </template>
</template>

<style scoped>
.two {
  grid-template-columns: minmax(0, 0.9fr) minmax(0, 1.4fr);
}
table {
  border-collapse: collapse;
  width: 100%;
}
td {
  padding: 0.14rem 0.7rem 0.14rem 0;
  border-bottom: 1px solid var(--hairline);
}
.right {
  text-align: right;
  white-space: nowrap;
}
.selected {
  background: var(--woad-wash);
}
.waiting {
  opacity: 0.7;
}
</style>
