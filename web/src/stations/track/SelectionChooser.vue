<script setup lang="ts">
import { computed } from 'vue'

import type { PrevalenceTable } from '@/api/prevalence'
import { period } from '@/marks/format'

import { stretch } from './prevalence'

/** One side of a comparison: a group, a stretch of time, or both. */
const props = defineProps<{ name: string; table?: PrevalenceTable; value: string; at: string; rest?: boolean }>()
const emit = defineEmits<{ change: [value: string, at: string] }>()
const ends = computed(() => props.at.split('..'))
const periods = computed(() => props.table?.periods ?? [])
const known = (name: string | undefined) => !!name && periods.value.some((each) => each.name === name)
/** The days of an event stand in no period. */
const days = computed(() => props.at !== '' && !known(props.at) && !ends.value.every(known))
const from = computed(() => (known(props.at) ? props.at : ends.value[0]))
const to = computed(() => (known(props.at) ? props.at : (ends.value[1] ?? ends.value[0])))
function span(first: string, last: string) {
  if (!first) return emit('change', props.value, '')
  const names = periods.value.map((each) => each.name)
  const end = !last || names.indexOf(last) < names.indexOf(first) ? first : last
  emit('change', props.value, stretch(first, end))
}
const given = (event: Event) => (event.target as HTMLSelectElement).value
</script>

<template>
  <fieldset class="ruled">
    <legend>{{ name }}</legend>
    <div class="row wrap small">
      <label v-if="table?.groups.length"
        >{{ table.group }}
        <select :value="value" :aria-label="`${name}: ${table.group}`" @change="emit('change', given($event), at)">
          <option value="">{{ rest && !at ? 'all others' : 'any' }}</option>
          <option v-for="each in table.groups" :key="each">{{ each }}</option>
        </select></label
      >
      <template v-if="periods.length">
        <span v-if="days" class="row"
          >{{ period(at) }} <button class="plain link" @click="emit('change', value, '')">any time</button></span
        >
        <template v-else>
          <label
            >from
            <select :value="at ? from : ''" :aria-label="`${name}: from`" @change="span(given($event), to)">
              <option value="">{{ rest && !value ? 'all other times' : 'any time' }}</option>
              <option v-for="each in periods" :key="each.name" :value="each.name">{{ period(each.name) }}</option>
            </select></label
          >
          <label v-if="at"
            >to
            <select :value="to" :aria-label="`${name}: to`" @change="span(from, given($event))">
              <option v-for="each in periods" :key="each.name" :value="each.name">{{ period(each.name) }}</option>
            </select></label
          >
        </template>
      </template>
    </div>
  </fieldset>
</template>
