<script setup lang="ts">
import { computed } from 'vue'

import SettingField from '@/frame/SettingField.vue'
import { isAsked, type Field } from '@/frame/settings'

import { alike, useWeighting, type Weighting } from './weighting'

/** Local × global × length, each chosen by itself, or a usual combination of them. */
const { weighting, choices, want } = useWeighting()
const current = computed(() =>
  choices.value?.schemes.find((each) => alike({ ...each.weighting } as Weighting, weighting.value)),
)
const KINDS = [
  ['local_weight', 'local_weights', 'local', 'of the count, in its document'],
  ['global_weight', 'global_weights', 'global', 'of the term, over all documents'],
  ['norm', 'norms', 'length', 'of the whole row'],
] as const
const options = computed(() => {
  const all = Object.entries((choices.value?.options ?? {}) as Record<string, Field>)
  return Object.fromEntries(all.filter(([, field]) => isAsked(field, weighting.value)))
})
</script>

<template>
  <div v-if="choices" class="chooser">
    <div class="row wrap" role="group" aria-label="Usual weightings">
      <button
        v-for="each in choices.schemes"
        :key="each.name"
        class="plain mode"
        :aria-pressed="current?.name === each.name"
        @click="want({ ...each.weighting, base: weighting.base })">
        {{ each.name }}
      </button>
    </div>
    <div class="plies">
      <fieldset class="ruled" v-for="[key, list, name, about] in KINDS" :key="key">
        <legend>
          {{ name }} <span class="soft small">{{ about }}</span>
        </legend>
        <label v-for="each in choices[list]" :key="each.name" :title="each.ends.filter(Boolean).join('; ')">
          <input
            type="radio"
            :name="key"
            :value="each.name"
            :checked="weighting[key] === each.name"
            @change="want({ [key]: each.name })" />
          <span>{{ each.title }}</span>
          <span class="book soft">{{ each.formula }}</span>
        </label>
      </fieldset>
    </div>
    <div class="row wrap small">
      <label :class="{ soft: !choices.logarithms }"
        >logarithm
        <select
          :value="weighting.base"
          aria-label="Base of the logarithm"
          @change="want({ base: ($event.target as HTMLSelectElement).value as Weighting['base'] })">
          <option value="e">ln, base e</option>
          <option value="2">log₂</option>
          <option value="10">log₁₀</option>
        </select></label
      >
      <SettingField
        v-for="(field, name) in options"
        :key="name"
        :name="name"
        :field="field"
        :value="weighting[name as keyof Weighting]"
        @change="want({ [name]: $event })" />
      <span class="soft">{{ choices.base }}</span>
    </div>
  </div>
</template>

<style scoped>
.chooser {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 0.7rem;
}
.chooser > .row {
  gap: 0.4rem 0.9rem;
}
.chooser > .row:first-child {
  gap: 0.3rem 0;
}
.plies {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(17rem, 1fr));
  gap: 0.6rem 1.6rem;
}
fieldset label {
  display: grid;
  grid-template-columns: 1.1rem 8.2rem minmax(0, 1fr);
  align-items: baseline;
  gap: 0.3rem;
  min-height: 24px;
}
</style>
