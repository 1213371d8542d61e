<script setup lang="ts">
import { computed, ref } from 'vue'

import type { Schemas } from '@/api/client'
import type { Said } from '@/api/holds'
import { useAddress } from '@/frame/address'
import PinStatement from '@/frame/PinStatement.vue'
import { useEvidence } from '@/frame/evidence'
import Waiting from '@/frame/Waiting.vue'
import ChartFrame from '@/marks/ChartFrame.vue'
import { count, decimal, percent } from '@/marks/format'

import RatioBar from './RatioBar.vue'
import WordWorking from './WordWorking.vue'
import { isOn, text } from './beside'
import { useGroupWords, wordOf, type Query } from './words'

/** Words that one group has more of, or less, with every measure; a line opens to its working. */
const props = defineProps<{ group: number; settings: Schemas['GroupWordsSettings'] }>()
const { get, set } = useAddress()
const { select, isSelected } = useEvidence()
const less = computed(() => get('less') === '1')
const query = computed((): Query => ({
  group: props.group,
  less: less.value,
  sure: get('sure') === '1',
  kind: get('kind', 'all') as Query['kind'],
  order: get('by', 'log_odds') as Query['order'],
  page: Number(get('wp', '1')),
  limit: 20,
}))
const words = useGroupWords(query)
const found = computed(() => words.data.value)
const opened = ref('')
/** From the lowest to the highest end of an interval, no difference always in sight. */
const reach = computed((): [number, number] => {
  const ends = (found.value?.words ?? []).flatMap((each) => [each.low, each.high, each.log_ratio])
  const known = ends.filter((each) => each != null)
  return [Math.min(-0.2, ...known), Math.max(0.2, ...known)]
})
const HEADER = [
  'word',
  'in the group',
  'elsewhere',
  'per 10 000',
  'elsewhere per 10 000',
  'G²',
  'log ratio',
  'low',
  'high',
  'log odds',
  'p',
  'adjusted',
  'units with it',
  'other units',
]
const rows = computed(() =>
  (found.value?.words ?? []).map((each) => [
    each.display,
    each.inside,
    each.outside,
    each.rate,
    each.other_rate,
    each.likelihood,
    each.log_ratio,
    each.low ?? null,
    each.high ?? null,
    each.log_odds,
    each.p ?? null,
    each.adjusted ?? null,
    each.units,
    each.other_units,
  ]),
)
function open(word: Schemas['ComparedWord']) {
  opened.value = opened.value === word.term ? '' : word.term
  select(wordOf(word.term, found.value!.group, props.settings))
}
/** What its line says, to be pinned; documents that were chosen by hand have no name that would last. */
function said(word: Schemas['ComparedWord']): Said | undefined {
  const { field, period, unit } = props.settings
  if (!field && !period) return undefined
  const name = found.value!.group
  const side = field ? { value: name } : { at: name }
  return { by: { group: field, unit }, sides: [side], less: word.log_ratio < 0, word: word.term } as Said
}
const p = (value: number | null | undefined) =>
  value == null ? '–' : value < 0.0005 ? '<.001' : decimal(value, 3).replace('0.', '.')
</script>

<template>
  <ChartFrame
    v-if="found"
    :title="`Words that ${found.group} has ${less ? 'less' : 'more'} of`"
    :note="`${count(found.found)} words. ${found.says}`"
    name="group-words"
    :header="HEADER"
    :rows="rows">
    <div class="row wrap small tools">
      <label
        ><select :value="less ? '1' : ''" aria-label="More or less" @change="set({ less: text($event), wp: '' })">
          <option value="">more</option>
          <option value="1">less</option>
        </select></label
      >
      <label
        >of
        <select
          :value="get('kind', 'all')"
          aria-label="Words, phrases or names"
          @change="set({ kind: text($event), wp: '' })">
          <option value="all">words and phrases</option>
          <option value="words">words</option>
          <option value="phrases">phrases</option>
          <option value="names">names</option>
        </select></label
      >
      <label
        >first by
        <select :value="get('by', 'log_odds')" aria-label="Order" @change="set({ by: text($event), wp: '' })">
          <option value="log_odds">weighted log odds</option>
          <option value="likelihood">G²</option>
          <option value="log_ratio">log ratio</option>
          <option value="count">count</option>
        </select></label
      >
      <label
        ><input
          type="checkbox"
          :checked="get('sure') === '1'"
          @change="set({ sure: isOn($event) ? '1' : '', wp: '' })" />
        told apart by unit only</label
      >
    </div>
    <div class="scroll">
      <table class="numbers">
        <thead>
          <tr>
            <th>word</th>
            <th title="per ten thousand words of the group">10 000</th>
            <th title="per ten thousand words of the others">others</th>
            <th class="wide" :title="`how many times as ${less ? 'rare' : 'often'}, with the 95 % interval by unit`">
              times as {{ less ? 'rare' : 'often' }}, 95 %
            </th>
            <th>G²</th>
            <th>log odds</th>
            <th title="two-sided, by unit; adjusted for all words and groups (Benjamini and Hochberg)">p adj.</th>
            <th title="units of the group that have the word">units</th>
          </tr>
        </thead>
        <tbody>
          <template v-for="word in found.words" :key="word.term">
            <tr
              tabindex="0"
              :class="{ chosen: isSelected(wordOf(word.term, found.group, settings)) }"
              @click="open(word)"
              @keydown.enter="open(word)">
              <th class="book">{{ word.display }}</th>
              <td>{{ decimal(word.rate, 1) }}</td>
              <td class="soft">{{ decimal(word.other_rate, 1) }}</td>
              <td><RatioBar :ratio="word.log_ratio" :low="word.low" :high="word.high" :reach="reach" /></td>
              <td>{{ decimal(word.likelihood, 1) }}</td>
              <td>{{ decimal(word.log_odds, 1) }}</td>
              <td :class="{ sure: (word.adjusted ?? 1) <= 0.05 }">{{ p(word.adjusted) }}</td>
              <td>
                {{ count(word.units) }} <small class="soft">{{ percent(word.spread, 0) }}</small>
              </td>
            </tr>
            <tr v-if="opened === word.term">
              <td colspan="8">
                <WordWorking :group="group" :term="word.term" />
                <PinStatement v-if="said(word)" :said="said(word)!">pin it, for “Does it hold?” at Track</PinStatement>
              </td>
            </tr>
          </template>
        </tbody>
      </table>
    </div>
    <div v-if="found.pages > 1" class="row small">
      <button class="plain link" :disabled="found.page < 2" @click="set({ wp: String(found.page - 1) })">before</button>
      <span>page {{ count(found.page) }} of {{ count(found.pages) }}</span>
      <button class="plain link" :disabled="found.page >= found.pages" @click="set({ wp: String(found.page + 1) })">
        next
      </button>
    </div>
  </ChartFrame>
  <p v-else-if="words.error.value" class="notice bad">{{ words.error.value.message }}</p>
  <Waiting v-else what="Comparing the words" />
</template>

<style scoped>
.tools {
  margin-bottom: 0.4rem;
}
.scroll {
  overflow-x: auto;
}
table {
  width: 100%;
}
th {
  text-align: right;
  font-weight: 400;
}
thead th {
  color: var(--soft);
  font-size: 0.82rem;
}
th:first-child {
  text-align: left;
}
.wide {
  text-align: center;
  width: 30%;
}
td {
  text-align: right;
  padding: 0.12rem 0.3rem;
}
tbody tr {
  border-bottom: 1px solid var(--hairline);
  cursor: pointer;
}
tbody tr:hover,
.chosen {
  background: var(--woad-wash);
}
.sure {
  font-weight: 700;
  color: var(--lichen);
}
</style>
