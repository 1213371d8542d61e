<script setup lang="ts">
import { computed } from 'vue'

import { ask, client } from '@/api/client'
import { strandPath, useStrand, useStrandQuery } from '@/api/strand'
import JobNotice from '@/frame/JobNotice.vue'
import Waiting from '@/frame/Waiting.vue'
import { useJob } from '@/frame/jobs'
import { useAddress } from '@/frame/address'
import { useEvidence } from '@/frame/evidence'
import BarRow from '@/marks/BarRow.vue'
import Columns from '@/marks/Columns.vue'
import { count, counted, period } from '@/marks/format'

import DocumentList from './DocumentList.vue'
import FieldTable from './FieldTable.vue'
import ImportPanel from './ImportPanel.vue'
import RejectedList from './RejectedList.vue'
import { useShape, type Operation } from '@/frame/shape'
import ShapePanel from './ShapePanel.vue'

const { id, strand, error, made } = useStrand()
const { get, set } = useAddress()
const { select, isSelected } = useEvidence()
const { add, undo } = useShape()
const { newest: job, atWork } = useJob('gather')
const ready = computed(() => !!strand.value?.plies[0].identity && !!strand.value?.plies[1].identity)
const overview = useStrandQuery(
  'overview',
  () => strand.value?.plies[0].identity,
  (strandId) => ask(client.GET('/api/strands/{strand_id}/overview', { params: strandPath(strandId) })),
  ready,
)
const found = computed(() => overview.data.value)
const shaped = computed(() => strand.value?.wanted.shape?.length ?? 0)
const tab = computed(() => get('tab', get('focus') === 'find' || get('find') ? 'documents' : 'overview'))
const tabs = computed(() => [
  { name: 'overview', label: 'Overview' },
  { name: 'documents', label: 'Documents' },
  { name: 'files', label: 'Files' },
  { name: 'shape', label: shaped.value ? `Shape ${count(shaped.value)}` : 'Shape' },
  {
    name: 'rejected',
    label: `Left out and noted ${count((found.value?.rejected ?? 0) + (found.value?.noted ?? 0))}`,
  },
])
/** The documents of a flag go, as a recorded step. */
async function leaveOut(step: Operation) {
  await add(step)
  await set({ tab: 'shape' })
}
const groups = computed(() =>
  (found.value?.fields ?? []).filter((field) => field.values.length > 0 && field.values.length <= 60),
)
const periodName = computed(() => found.value?.period ?? 'year')
const dates = computed(() =>
  (found.value?.dates ?? []).map((bar) => ({
    ...bar,
    said: period(bar.label),
    evidence: { period: periodName.value as 'year', at: bar.label },
  })),
)
const lengths = computed(() =>
  (found.value?.lengths ?? []).map((bar) => ({
    ...bar,
    said: `${bar.label} words`,
    evidence: { words_from: bar.start ?? 0, words_to: bar.end ?? undefined },
  })),
)
</script>

<template>
  <div class="station">
    <p v-if="error" class="notice bad">{{ error.message }}</p>
    <template v-if="atWork || (!ready && job)">
      <section class="working">
        <h1>{{ job?.title }}</h1>
        <JobNotice v-if="job" :job="job" />
      </section>
      <ImportPanel v-if="!atWork" :key="job?.id" :strand="id" />
    </template>
    <template v-else-if="found">
      <div class="row wrap spread">
        <div>
          <h1>{{ strand?.name }}</h1>
          <p class="soft">
            {{ counted(found.documents, 'document') }}, {{ count(found.words) }} words, median
            {{ count(Math.round(found.median_words)) }}
            <button v-if="strand?.undo" class="plain link" title="undo the last change" @click="undo">undo</button>
          </p>
        </div>
        <div role="tablist" class="tabs">
          <button
            v-for="each in tabs"
            :key="each.name"
            role="tab"
            class="plain"
            :aria-selected="tab === each.name"
            @click="set({ tab: each.name, focus: '' })">
            {{ each.label }}
          </button>
        </div>
      </div>
      <div v-if="tab === 'overview'" class="overview">
        <section v-if="found.flags.length" class="flags">
          <h2>Worth a look before you go on</h2>
          <div class="flagged">
            <div v-for="flag in found.flags" :key="flag.flag" class="row flagrow">
              <button
                class="plain flag grow"
                :class="{ on: isSelected({ flag: flag.flag }) }"
                @click="select({ flag: flag.flag })">
                <b>{{ counted(flag.count, 'document') }}</b> {{ flag.said }}
                <span class="soft block small">{{ flag.why }}</span>
              </button>
              <button
                v-if="flag.out"
                class="plain link small"
                :aria-label="`Leave out those ${flag.said}`"
                @click="leaveOut(flag.out as Operation)">
                leave out
              </button>
            </div>
          </div>
        </section>
        <Columns v-if="dates.length > 1" title="When" :note="`documents by ${periodName}`" :bars="dates" name="dates" />
        <Columns title="How long" note="documents by number of words" :bars="lengths" name="lengths" />
        <div class="groups">
          <section v-for="field in groups" :key="field.name">
            <h2>{{ field.name }}</h2>
            <p class="soft small">
              {{ counted(field.distinct, 'value') }}, given in
              {{ counted(field.filled, 'document') }}
            </p>
            <BarRow
              v-for="bar in field.values.slice(0, 12)"
              :key="bar.label"
              :label="bar.label"
              :value="bar.count"
              :most="field.values[0].count"
              :selected="isSelected({ field: field.name, value: bar.label })"
              @pick="select({ field: field.name, value: bar.label })" />
          </section>
        </div>
        <FieldTable :overview="found" />
      </div>
      <DocumentList v-else-if="tab === 'documents'" :fields="found.fields" :languages="found.languages" />
      <ShapePanel v-else-if="tab === 'shape'" :fields="found.fields" :documents="found.documents" />
      <RejectedList v-else-if="tab === 'rejected'" />
      <JobNotice v-if="tab === 'files' && job" :job="job" />
      <KeepAlive>
        <ImportPanel v-if="tab === 'files'" :key="`${id} ${strand?.wanted.base}`" :strand="id" />
      </KeepAlive>
    </template>
    <template v-else-if="!error">
      <h1>{{ strand?.name ?? 'Gather' }}</h1>
      <p v-if="overview.error.value" class="notice bad">{{ overview.error.value.message }}</p>
      <Waiting v-else :what="`Looking over ${counted(made.corpus?.documents ?? 0, 'document')}`" />
    </template>
  </div>
</template>

<style scoped>
.working {
  max-width: 34rem;
  display: grid;
  gap: 0.8rem;
}
.tabs {
  display: flex;
  flex-wrap: wrap;
}
.tabs button {
  white-space: nowrap;
  padding: 0.3rem 0.8rem;
  border-bottom: 2px solid var(--hairline);
}
.tabs button[aria-selected='true'] {
  border-color: var(--woad);
  font-weight: 700;
}
.overview {
  display: grid;
  gap: 1.4rem;
}
.flagged {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(23rem, 1fr));
  gap: 0.4rem 1.6rem;
  margin-top: 0.4rem;
}
.flagrow {
  align-items: baseline;
}
.block {
  display: block;
}
.flag {
  padding: 0.15rem 0.6rem;
  border-left: 3px solid var(--weld);
}
.flag:hover,
.flag.on {
  background: var(--weld-wash);
}
.groups {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(17rem, 1fr));
  gap: 1.5rem;
}
</style>
