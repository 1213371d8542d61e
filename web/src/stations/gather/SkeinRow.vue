<script setup lang="ts">
import { useMutation, useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { nextTick, ref } from 'vue'
import { RouterLink } from 'vue-router'

import { ask, client, type Schemas } from '@/api/client'
import { counted, size } from '@/marks/format'

/** A skein on this machine: opened, renamed, copied, saved as a file, deleted. */
const props = defineProps<{ skein: Schemas['SkeinEntry'] }>()
const queries = useQueryClient()
const path = { path: { skein_id: props.skein.id } }
const settled = {
  onSettled: () => ['skeins', 'storage'].forEach((key) => queries.invalidateQueries({ queryKey: [key] })),
}
const renaming = ref(false)
const box = ref<HTMLInputElement>()
const going = ref<Schemas['Content']>()
const rename = useMutation({
  mutationFn: (name: string) => ask(client.PUT('/api/skeins/{skein_id}', { params: path, body: { name } })),
  ...settled,
})
const copy = useMutation({
  mutationFn: () => ask(client.POST('/api/skeins/{skein_id}/copy', { params: path })),
  ...settled,
})
const restore = useMutation({
  mutationFn: () => ask(client.POST('/api/skeins/{skein_id}/restore', { params: path })),
  ...settled,
})
const remove = useMutation({
  mutationFn: () => ask(client.DELETE('/api/skeins/{skein_id}', { params: path })),
  ...settled,
})
async function startRenaming() {
  renaming.value = true
  await nextTick()
  box.value?.select()
}
function keep() {
  const name = box.value?.value.trim() ?? ''
  renaming.value = false
  if (name && name !== props.skein.name) rename.mutate(name)
}
async function look() {
  going.value = await ask(client.GET('/api/skeins/{skein_id}/content', { params: path }))
}
</script>

<template>
  <li>
    <p v-if="skein.deleted" class="row entry soft">
      <span class="grow"
        ><s>{{ skein.name }}</s> goes when Skeinwork is stopped.</span
      >
      <button class="plain link small" @click="restore.mutate()">bring back</button>
    </p>
    <div v-else class="row entry">
      <input
        v-if="renaming"
        ref="box"
        class="grow"
        :value="skein.name"
        maxlength="200"
        aria-label="Name of the skein"
        @keydown.enter="keep"
        @keydown.esc="renaming = false"
        @blur="keep" />
      <RouterLink v-else :to="`/strand/${skein.strands[0]}/gather`" class="grow open">
        <b>{{ skein.name }}</b>
        <span class="soft">
          {{ skein.documents === null ? 'being brought in' : counted(skein.documents ?? 0, 'document') }}
          <template v-if="skein.strands.length > 1">· {{ skein.strands.length }} strands</template>
        </span>
      </RouterLink>
      <span class="row small tools">
        <button class="plain link" @click="startRenaming">rename</button>
        <button class="plain link" @click="copy.mutate()">copy</button>
        <a :href="`/api/skeins/${skein.id}/file`" download>save as a file</a>
        <button class="plain link" @click="look">delete</button>
      </span>
    </div>
    <p v-if="going && !skein.deleted" class="notice row">
      <span class="grow">
        {{ counted(going.strands, 'strand') }} with {{ counted(going.labels, 'label') }},
        {{ counted(going.notes, 'note') }} and {{ counted(going.events, 'event') }} would go, and
        {{ counted(going.results, 'result') }} ({{ size(going.bytes) }}) that no other skein has.
      </span>
      <Button label="Delete" size="small" severity="danger" @click="((going = undefined), remove.mutate())" />
      <Button label="Keep" size="small" severity="secondary" @click="going = undefined" />
    </p>
  </li>
</template>

<style scoped>
.entry {
  border-bottom: 1px solid var(--hairline);
}
.open {
  display: flex;
  justify-content: space-between;
  gap: 1rem;
  padding: 0.7rem 0.3rem;
  color: var(--ink);
  text-decoration: none;
}
.open:hover {
  background: var(--woad-wash);
}
.tools {
  white-space: nowrap;
}
</style>
