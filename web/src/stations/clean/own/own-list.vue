<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'

import { ask, client, type Problem, type Schemas } from '@/api/client'
import { useWanted } from '@/api/strand'
import FileLink from '@/frame/FileLink.vue'
import { say } from '@/frame/notices'
import { counted } from '@/marks/format'
import { sendForm } from '@/frame/uploads'

import type { Pass } from '../passes'

/** Saved lists: choose, bring in, merge, name, take out. */
type List = Schemas['ListRecord']
type Ref = { sha256: string; name: string; words: number }
const props = defineProps<{ pass: Pass }>()
const emit = defineEmits<{ change: [object] }>()
const { wanted } = useWanted()
const queries = useQueryClient()
const shelf = useQuery({ queryKey: ['lists'], queryFn: () => ask(client.GET('/api/lists')) })
const chosen = computed(() => ((props.pass as { lists?: Ref[] }).lists ?? []) as Ref[])
const lists = computed(() => (shelf.data.value ?? []).filter((each) => each.kind === 'words'))
const isChosen = (list: List) => chosen.value.some((each) => each.sha256 === list.sha256)
/** Chosen lists that are not on the shelf any more, or came with a pattern. */
const elsewhere = computed(() =>
  chosen.value.filter((each) => !lists.value.some((list) => list.sha256 === each.sha256)),
)
const opened = ref(0)
const naming = ref({ name: '', note: '', origin: '' })

function choose(list: Ref | List, on: boolean) {
  const rest = chosen.value.filter((each) => each.sha256 !== list.sha256)
  const { sha256, name, words } = list
  emit('change', { lists: on ? [...rest, { sha256, name, words }] : rest })
}
const again = () => queries.invalidateQueries({ queryKey: ['lists'] })
const change = useMutation<unknown, Problem, () => Promise<unknown>>({
  mutationFn: (send) => send(),
  onError: (fault) => say(fault.message, 'bad'),
  onSettled: again,
})
function upload(file: File) {
  const form = new FormData()
  form.append('file', file)
  change.mutate(async () => {
    const made = await sendForm<List>('/api/lists/file', form)
    made.remarks?.forEach((remark) => say(remark))
    choose(made, true)
  })
}
const merge = () =>
  change.mutate(async () => {
    const merged = lists.value.filter(isChosen)
    const body = {
      name: merged
        .map((each) => each.name)
        .join(' + ')
        .slice(0, 200),
      merged: merged.map((each) => each.id),
    }
    const made = await ask(client.POST('/api/lists', { body: body as Schemas['NewList'] }))
    emit('change', { lists: [{ sha256: made.sha256, name: made.name, words: made.words }] })
  })
/** The words that this cleaning's other passes leave out by hand. */
const byHand = computed(() =>
  (wanted.value?.clean?.passes ?? []).flatMap((pass) => {
    const of = pass as { words?: string[]; own?: string[]; kind?: string }
    return of.kind === 'domain-words' ? (of.words ?? []) : of.kind === 'stop-words' ? (of.own ?? []) : []
  }),
)
const keepByHand = () =>
  change.mutate(() =>
    ask(
      client.POST('/api/lists', {
        body: { name: 'Own words', note: '', origin: 'words left out by hand', words: byHand.value, merged: [] },
      }),
    ),
  )
function open(list: List) {
  opened.value = opened.value === list.id ? 0 : list.id
  naming.value = { name: list.name, note: list.note, origin: list.origin }
}
const rename = (list: List) =>
  change.mutate(() =>
    ask(client.PUT('/api/lists/{list_id}', { params: { path: { list_id: list.id } }, body: naming.value })),
  )
const forget = (list: List) =>
  change.mutate(() => ask(client.DELETE('/api/lists/{list_id}', { params: { path: { list_id: list.id } } })))
</script>

<template>
  <div class="lists">
    <div v-for="list in lists" :key="list.id">
      <span class="row">
        <label class="grow cut"
          ><input
            type="checkbox"
            :checked="isChosen(list)"
            @change="choose(list, ($event.target as HTMLInputElement).checked)" />
          {{ list.name }} <span class="soft">{{ counted(list.words, 'word') }}</span></label
        >
        <button class="plain link" :aria-expanded="opened === list.id" @click="open(list)">more</button>
      </span>
      <div v-if="opened === list.id" class="one">
        <p class="book">{{ list.first.join(', ') }}{{ list.words > list.first.length ? ', …' : '' }}</p>
        <label>name <input v-model="naming.name" type="text" @change="rename(list)" /></label>
        <label>note <input v-model="naming.note" type="text" @change="rename(list)" /></label>
        <label>origin <input v-model="naming.origin" type="text" @change="rename(list)" /></label>
        <span class="row wrap">
          save as
          <a
            v-for="form in ['txt', 'csv', 'json']"
            :key="form"
            :href="`/api/lists/${list.id}/file?form=${form}`"
            download
            >{{ form }}</a
          >
          <button class="plain link" @click="forget(list)">forget</button>
        </span>
      </div>
    </div>
    <label v-for="list in elsewhere" :key="list.sha256"
      ><input type="checkbox" checked @change="choose(list, false)" /> {{ list.name }}
      <span class="soft">not on the shelf</span></label
    >
    <p v-if="!lists.length" class="soft">No lists yet.</p>
    <span class="row wrap">
      <FileLink accept=".txt,.csv,.tsv,.json" name="Bring a list in" @chosen="upload">bring a list in</FileLink>
      <button v-if="lists.filter(isChosen).length > 1" class="plain link" @click="merge">merge the chosen</button>
      <button v-if="byHand.length" class="plain link" @click="keepByHand">
        save the {{ counted(byHand.length, 'word') }} left out by hand
      </button>
    </span>
    <label
      ><input
        type="checkbox"
        :checked="(pass as { possessives?: boolean }).possessives !== false"
        @change="emit('change', { possessives: ($event.target as HTMLInputElement).checked })" />
      with a possessive ’s too</label
    >
  </div>
</template>

<style scoped>
.lists,
.one {
  display: grid;
  gap: 0.3rem;
}
.one {
  border-left: 2px solid var(--hairline);
  padding-left: 0.6rem;
}
p {
  margin: 0;
}
input[type='text'] {
  width: 9rem;
}
</style>
