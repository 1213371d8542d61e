<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'

import { ask, client, type Problem, type Schemas } from '@/api/client'
import { strandPath, useStrandId } from '@/api/strand'
import FileLink from '@/frame/FileLink.vue'
import { say } from '@/frame/notices'
import SettingField from '@/frame/SettingField.vue'
import { counted } from '@/marks/format'
import { sendForm } from '@/frame/uploads'

import { usePasses, type Pass } from '../passes'

/** The method with its settings; a table of forms and lemmas is chosen, or brought in. */
type List = Schemas['ListRecord']
type Table = { sha256: string; name: string; words: number }
const props = defineProps<{ pass: Pass }>()
const emit = defineEmits<{ change: [object] }>()
const passes = usePasses()
const queries = useQueryClient()
const shelf = useQuery({ queryKey: ['lists'], queryFn: () => ask(client.GET('/api/lists')) })
const tables = computed(() => (shelf.data.value ?? []).filter((each) => each.kind === 'table'))
const table = computed(() => (props.pass as { table?: Table | null }).table)
const asks = (wanted: string) => passes.shown(props.pass).some(([name]) => name === wanted)
const asked = computed(() => passes.shown(props.pass).filter(([name]) => name !== 'table' && name !== 'rules'))
const rules = computed(() => ((props.pass as { rules?: string[] }).rules ?? []).join('\n'))
const typed = ref(rules.value)
watch(rules, (text) => (typed.value = text))
const id = useStrandId()
/** Rules are checked while they are typed, and taken once they can be. */
const checked = useQuery({
  queryKey: computed(() => ['rules', typed.value]),
  queryFn: () =>
    ask(
      client.GET('/api/strands/{strand_id}/word-forms/rules', {
        params: { ...strandPath(id.value), query: { text: typed.value } },
      }),
    ),
  enabled: computed(() => asks('rules')),
})
watch(checked.data, (found) => {
  if (found && !found.fault && found.rules.join('\n') !== rules.value) emit('change', { rules: found.rules })
})
const take = ({ sha256, name, words }: Table | List) => emit('change', { table: { sha256, name, words } })
function choose(event: Event) {
  const found = tables.value.find((each) => each.sha256 === (event.target as HTMLSelectElement).value)
  if (found) take(found)
}
const upload = useMutation<List, Problem, FormData>({
  mutationFn: (form) => sendForm<List>('/api/lists/file', form),
  onSuccess: (made) => {
    made.remarks?.forEach((remark) => say(remark))
    take(made)
  },
  onError: (fault) => say(fault.message, 'bad'),
  onSettled: () => queries.invalidateQueries({ queryKey: ['lists'] }),
})
function bring(file: File) {
  const form = new FormData()
  form.append('file', file)
  form.append('kind', 'table')
  upload.mutate(form)
}
</script>

<template>
  <SettingField
    v-for="[name, field] in asked"
    :key="name"
    :field="field"
    :value="(pass as unknown as Record<string, unknown>)[name]"
    @change="emit('change', { [name]: $event })" />
  <label v-if="asks('rules')"
    >own rules, before the published ones, as in sei3y&gt;
    <textarea v-model="typed" rows="3" aria-label="Own rules" :aria-invalid="!!checked.data.value?.fault" />
    <span v-if="checked.data.value?.fault" class="fault" role="alert">{{ checked.data.value.fault }}</span></label
  >
  <template v-if="asks('table')">
    <label
      >table
      <select :value="table?.sha256 ?? ''" aria-label="Table of forms and lemmas" @change="choose">
        <option value="" disabled>none chosen</option>
        <option v-for="each in tables" :key="each.sha256" :value="each.sha256">
          {{ each.name }}, {{ counted(each.words, 'form') }}
        </option>
        <option v-if="table && !tables.some((each) => each.sha256 === table!.sha256)" :value="table.sha256">
          {{ table.name || 'a table' }}, not on the shelf
        </option>
      </select></label
    >
    <FileLink accept=".tsv,.txt,.tab" name="Bring a table of forms and lemmas in" @chosen="bring"
      >bring a table in</FileLink
    >
    <span class="soft">two columns with a tab between: forms and lemmas, in either order</span>
  </template>
</template>

<style scoped>
textarea {
  width: 100%;
  font-family: var(--book);
  resize: vertical;
}
.fault {
  display: block;
  color: var(--madder);
}
</style>
