<script setup lang="ts" generic="Row extends Found">
import { computed, ref } from 'vue'

import FileLink from '@/frame/FileLink.vue'
import Waiting from '@/frame/Waiting.vue'
import { useEvidence } from '@/frame/evidence'
import { count, counted } from '@/marks/format'

import { otherwise, type Found } from './found'

/** Things found in the texts, each with its evidence, to be ticked; the columns between are the caller's. */
const props = defineProps<{
  title: string
  noun: string
  rows?: Row[]
  waiting: boolean
  error?: Error | null
  table: string
  said: string
  picked: (row: Row) => boolean
  labelled: (words: string) => string
}>()
const emit = defineEmits<{ pick: [Row[], boolean]; bring: [string] }>()
const { select, isSelected } = useEvidence()
const SHOWN = 15
const more = ref(false)
const shown = computed(() => props.rows?.slice(0, more.value ? undefined : SHOWN) ?? [])
/** As it is written most often, and so found in the texts. */
const word = (row: Row) => row.variants[0].words
const ticked = (event: Event) => (event.target as HTMLInputElement).checked
</script>

<template>
  <div class="row wrap ledger-head">
    <h2>{{ title }}</h2>
    <slot name="filters" />
    <a class="small" :href="table" download>save as CSV</a>
    <FileLink
      class="small"
      accept=".csv"
      :name="`Bring a table of ${noun}s in`"
      @chosen="async (file) => emit('bring', await file.text())"
      >bring a CSV in</FileLink
    >
    <span class="soft small" role="status">{{ said }}</span>
  </div>
  <p v-if="error" class="notice bad">{{ error.message }}</p>
  <Waiting v-else-if="!rows" :what="`Looking for ${noun}s`" />
  <template v-else>
    <slot name="about" />
    <table v-if="rows.length" class="ledger" :class="{ waiting }">
      <thead class="soft small">
        <tr>
          <th />
          <th>{{ noun }}</th>
          <slot name="head" />
          <th class="also">also written</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in shown" :key="row.words" :class="{ selected: isSelected({ word: word(row) }) }">
          <td>
            <input
              type="checkbox"
              :checked="picked(row)"
              :aria-label="labelled(row.words)"
              @change="emit('pick', [row], ticked($event))" />
          </td>
          <td class="book">
            <button class="plain" @click="select({ word: word(row) })">{{ row.words }}</button>
          </td>
          <slot name="cells" :row="row" :documents="`in ${counted(row.documents, 'document')}`" />
          <td class="book soft cut also">{{ otherwise(row) }}</td>
        </tr>
      </tbody>
    </table>
    <span class="row wrap small">
      <button v-if="rows.length > SHOWN" class="plain link" @click="more = !more">
        {{ more ? 'fewer' : `the first ${count(rows.length)}` }}
      </button>
      <slot name="actions" :shown="shown" />
    </span>
  </template>
</template>

<style scoped>
.link,
a.small {
  display: inline-flex;
  align-items: center;
  min-height: 24px;
}
.also {
  max-width: 14rem;
}
@container (max-width: 31rem) {
  .also {
    display: none;
  }
  .ledger :deep(select) {
    width: 5.4rem;
    padding-inline: 0.3rem;
  }
}
</style>
