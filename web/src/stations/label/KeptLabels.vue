<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref, watch } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { strandPath, useStrandChange } from '@/api/strand'
import { useTopics } from '@/api/topics'
import FileLink from '@/frame/FileLink.vue'
import { say } from '@/frame/notices'
import Swatch from '@/marks/Swatch.vue'
import { counted, decimal } from '@/marks/format'

import { useLostLabels } from './label'
import { useReading } from './reading'

/** Labels from elsewhere: those that no topic has any more, and those of a table, told by its words. */
const { fit, topics, label, dye } = useTopics()
const lost = useLostLabels()
const edit = useReading()
const text = ref('')
const rows = ref<Schemas['TableLabel'][]>()
watch(fit, () => (rows.value = undefined))
const read = useStrandChange(async (id, apply: boolean) => {
  const body = { fit: fit.value ?? '', text: text.value, apply }
  rows.value = await ask(client.POST('/api/strands/{strand_id}/label-table', { params: strandPath(id), body }))
  if (apply) {
    say(`${counted(known.value.length, 'label')} wait to be confirmed.`)
    rows.value = undefined
  }
})
const known = computed(() => (rows.value ?? []).filter((row) => row.topic !== null && row.label))
async function open(file: File) {
  text.value = await file.text()
  read.mutate(false)
}
function give(each: Schemas['LostLabel']) {
  const topic = topics.value[each.nearest ?? -1]
  if (topic)
    edit.save(topic, { label: each.label, note: topic.note || each.note, family: each.family, confirmed: true })
}
</script>

<template>
  <section aria-label="Labels from elsewhere" class="kept">
    <h2>Labels of earlier fits that no topic has now</h2>
    <p v-if="!lost.data.value?.length" class="soft small">None.</p>
    <p v-for="each in lost.data.value" :key="each.label" class="row wrap lost">
      <b>{{ each.label }}</b>
      <small v-if="each.nearest !== null" class="soft row"
        >nearest: <Swatch :dye="dye(each.nearest)" :size="12" />{{ label(each.nearest) }},
        {{ decimal(each.likeness) }} alike</small
      >
      <button v-if="each.nearest !== null" class="plain link small" @click="give(each)">give it this label</button>
    </p>
    <h2>Labels of a table</h2>
    <p class="soft small">
      A CSV with the columns <b>label</b> and <b>words</b>, as labels.csv of Share: each row goes to the topic that has
      most of its words.
      <FileLink accept=".csv,.tsv,.txt" name="Table of labels" @chosen="open">Choose a table</FileLink>
    </p>
    <template v-if="rows">
      <table class="ledger small">
        <tbody>
          <tr v-for="row in rows" :key="row.line">
            <td>
              <b>{{ row.label || 'no label' }}</b>
            </td>
            <td>
              <span v-if="row.topic !== null" class="row"
                ><Swatch :dye="dye(row.topic)" :size="12" />{{ label(row.topic) }}</span
              ><span v-else class="soft">no topic</span>
            </td>
            <td class="numbers">{{ row.found }} of {{ counted(row.words, 'word') }}</td>
          </tr>
        </tbody>
      </table>
      <p class="row wrap">
        <Button
          size="small"
          :label="`Give ${counted(known.length, 'label')}`"
          :disabled="!known.length"
          :loading="read.isPending.value"
          @click="read.mutate(true)" />
        <button class="plain link" @click="rows = undefined">leave it</button>
        <small class="soft">They wait to be confirmed; confirmed labels stay.</small>
      </p>
    </template>
  </section>
</template>

<style scoped>
.kept {
  border-top: 1px solid var(--soft);
  padding-top: 0.4rem;
}
.kept h2 {
  margin: 0.4rem 0 0.2rem;
}
.lost {
  margin: 0.1rem 0;
}
.row {
  gap: 0.35rem 0.5rem;
}
</style>
