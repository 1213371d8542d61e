<script setup lang="ts">
import { computed } from 'vue'

import { count, counted, percent } from '@/marks/format'

import FrequencyHandles from './FrequencyHandles.vue'
import MatricesTable from './MatricesTable.vue'
import MovingTerms from './MovingTerms.vue'
import { atLeast, atMost, bounds, pinned, typedPercent, type Settings } from './pruning'
import NumberField from './NumberField.vue'
import type { Trying } from './trying'
import { alike, COUNTS, useWeighting } from './weighting'

/** Which terms become columns: limits by sight, what they take, and what is pinned. */
const props = defineProps<{ trying: Trying }>()
const { weighting } = useWeighting()
const found = computed(() => props.trying.found.value)
const settings = computed(() => props.trying.settings.value)
const text = (event: Event) => (event.target as HTMLSelectElement).value
function put(part: Partial<Settings>) {
  if (settings.value) props.trying.want({ ...settings.value, ...part })
}
function move(which: 'least' | 'most', value: number) {
  if (!settings.value || !found.value) return
  const next =
    which === 'least'
      ? atLeast.documents(settings.value, value)
      : atMost.documents(settings.value, value, found.value.of)
  props.trying.attempt(next)
}
const of = computed(() => Math.max(1, found.value?.of ?? 1))
/** As the settings say now: the figures follow a moment later. */
const now = computed(() => bounds(settings.value ?? ({} as Settings), of.value))
const byWeight = computed(() => !alike({ ...COUNTS, ...settings.value?.top_by }, COUNTS))
const putOrder = (event: Event) => put({ top_by: text(event) === 'weight' ? weighting.value : COUNTS })
</script>

<template>
  <div v-if="found && settings" class="prune">
    <FrequencyHandles
      :spectrum="found.spectrum as [number, number][]"
      :of="found.of"
      :least="now.least"
      :most="now.most"
      @move="move"
      @drop="trying.want()" />
    <p class="small">
      Suggested: in at least <b>{{ found.suggestion.least }}</b> ({{ found.suggestion.why }}):
      {{ count(found.suggestion.terms) }} of {{ count(found.suggestion.of_terms) }} words stay and are
      {{ percent(found.suggestion.tokens) }} of the text;
      {{
        found.suggestion.emptied
          ? `${counted(found.suggestion.emptied, 'document')} lose their last word`
          : 'no document loses its last word'
      }}.
      <button
        v-if="now.least !== found.suggestion.least"
        class="plain link"
        @click="trying.want(atLeast.documents(settings, found.suggestion.least))">
        take {{ found.suggestion.least }}
      </button>
    </p>
    <div class="fields">
      <fieldset class="ruled">
        <legend>in at least</legend>
        <NumberField
          name="At least, documents"
          :max="of"
          :value="now.least"
          @put="trying.want(atLeast.documents(settings, $event))"
          >documents</NumberField
        >
        <NumberField
          name="At least, percent"
          :min="0"
          :max="99.9999"
          step="any"
          :value="typedPercent(now.least / of, of)"
          @put="trying.want(atLeast.share(settings, $event / 100))"
          >% of them</NumberField
        >
        <NumberField
          name="Sparsity limit, percent"
          before="absent in"
          :min="0"
          :max="100"
          step="any"
          :value="typedPercent(1 - now.least / of, of)"
          @put="trying.want(atLeast.absent(settings, $event / 100))"
          >%</NumberField
        >
      </fieldset>
      <fieldset class="ruled">
        <legend>in at most</legend>
        <NumberField
          name="At most, documents"
          :max="of"
          :value="now.most"
          @put="trying.want(atMost.documents(settings, $event, of))"
          >documents</NumberField
        >
        <NumberField
          name="At most, percent"
          :min="0"
          :max="100"
          step="any"
          :value="typedPercent(now.most / of, of)"
          @put="trying.want(atMost.share(settings, $event / 100))"
          >%</NumberField
        >
      </fieldset>
      <fieldset class="ruled">
        <legend>and</legend>
        <NumberField
          name="Occurrences, at least"
          before="at least"
          :value="settings.min_count ?? 1"
          @put="put({ min_count: Math.max(1, $event) })"
          >times</NumberField
        >
        <NumberField
          name="Letters, at least"
          before="letters, from"
          :value="settings.min_letters ?? 1"
          @put="put({ min_letters: Math.max(1, $event) })" />
        <NumberField
          name="Letters, at most"
          before="letters, to"
          empty="any"
          :value="settings.max_letters"
          @put="put({ max_letters: $event || null })" />
      </fieldset>
      <fieldset class="ruled">
        <legend>of these</legend>
        <NumberField
          name="The first so many terms"
          before="the first"
          empty="all"
          :value="settings.keep_top"
          @put="put({ keep_top: $event || null })" />
        <NumberField
          name="The first share of terms, percent"
          before="the first"
          empty="100"
          :min="0"
          :max="100"
          step="any"
          :value="settings.keep_share ? typedPercent(settings.keep_share, 10_000) : ''"
          @put="put({ keep_share: $event > 0 && $event < 100 ? $event / 100 : null })"
          >%</NumberField
        >
        <label
          >by
          <select :value="byWeight ? 'weight' : 'count'" aria-label="The first terms by" @change="putOrder">
            <option value="count">count</option>
            <option value="weight">weight</option>
          </select></label
        >
      </fieldset>
      <fieldset class="ruled">
        <legend>a term</legend>
        <label
          >words, up to
          <select
            :value="settings.longest"
            aria-label="Longest n-gram"
            @change="put({ longest: Number(text($event)) })">
            <option v-for="n in 4" :key="n" :value="n">{{ n }}</option>
          </select>
        </label>
        <label v-if="(settings.longest ?? 1) > 1"
          ><input
            type="checkbox"
            :checked="settings.bridge"
            @change="put({ bridge: ($event.target as HTMLInputElement).checked })" />
          over removed words too</label
        >
        <label
          >columns by
          <select
            :value="settings.order"
            aria-label="Order of the columns"
            @change="put({ order: text($event) as Settings['order'] })">
            <option value="count">falling count</option>
            <option value="appearance">first appearance</option>
          </select></label
        >
      </fieldset>
    </div>
    <div class="moving">
      <section aria-label="Limits in their order">
        <h3>Limits, in this order</h3>
        <table class="ledger small">
          <thead class="soft">
            <tr>
              <th />
              <th>limit</th>
              <th class="numbers">terms</th>
              <th class="numbers">tokens</th>
            </tr>
          </thead>
          <tbody>
            <tr>
              <td />
              <td class="soft">all terms</td>
              <td class="numbers">{{ count(found.whole.terms) }}</td>
              <td class="numbers">{{ count(found.whole.tokens) }}</td>
            </tr>
            <tr v-for="(each, at) in found.limits" :key="each.limit">
              <td class="soft">{{ at + 1 }}</td>
              <td>{{ each.title }}</td>
              <td class="numbers">{{ count(each.terms) }}</td>
              <td class="numbers">{{ count(each.tokens) }}</td>
            </tr>
          </tbody>
        </table>
        <div v-if="found.pins.length || found.pinned_unknown.length" class="pins small">
          <span v-for="each in found.pins" :key="each.term" class="chip">
            <b>{{ each.pinned === 'stay' ? 'stays' : 'goes' }}</b> <span class="book">{{ each.display }}</span>
            <button
              class="plain"
              :aria-label="`Unpin ${each.display}`"
              @click="trying.want(pinned(settings, each.term, ''))">
              ×
            </button>
          </span>
          <span v-for="term in found.pinned_unknown" :key="term" class="chip soft">
            {{ term }}: in no document
            <button class="plain" :aria-label="`Unpin ${term}`" @click="trying.want(pinned(settings, term, ''))">
              ×
            </button>
          </span>
        </div>
      </section>
      <MovingTerms
        :title="found.beside.made ? 'Fall with the next rebuild' : 'Next to fall'"
        :terms="found.beside.falls"
        :total="found.beside.falling"
        :tokens="found.beside.falling_tokens"
        pin="stay"
        @pin="(term, pin) => trying.want(pinned(settings!, term, pin))" />
      <MovingTerms
        :title="found.beside.made ? 'Come with the next rebuild' : 'Next to come back'"
        :terms="found.beside.returns"
        :total="found.beside.returning"
        :tokens="found.beside.returning_tokens"
        pin="go"
        @pin="(term, pin) => trying.want(pinned(settings!, term, pin))" />
    </div>
    <MatricesTable />
  </div>
</template>

<style scoped>
.prune {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 0.8rem;
}
.prune p {
  margin: 0;
  max-width: 52rem;
}
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(9.6rem, 1fr));
  gap: 0.6rem 1rem;
}
fieldset {
  display: grid;
  gap: 0.3rem;
  align-content: start;
}
fieldset select {
  max-width: 100%;
}
.moving {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(16rem, 1fr));
  gap: 1.6rem;
}
.pins {
  display: flex;
  flex-wrap: wrap;
  gap: 0.4rem;
  margin-top: 0.5rem;
}
.pins .chip {
  padding: 0 0.4rem;
  min-height: 26px;
}
.pins button {
  min-width: 24px;
  min-height: 24px;
  text-align: center;
}
</style>
