<script setup lang="ts">
import { computed } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { strandPath, useStrand, useStrandQuery } from '@/api/strand'
import { useAddress } from '@/frame/address'
import Waiting from '@/frame/Waiting.vue'

import CrossedTable from './CrossedTable.vue'
import MeanGrid from './MeanGrid.vue'
import { text } from './beside'

/** All groups side by side: by their words, over a field, or beside another grouping. */
const props = defineProps<{ found: Schemas['GroupsScreen'] }>()
const { ply } = useStrand()
const { get, set } = useAddress()
const identity = computed(() => ply('groups')?.identity)
const look = computed(() => get('look', 'words'))
const by = computed(() => (look.value.startsWith('by:') ? look.value.slice(3) : ''))
const other = computed(() => (look.value.startsWith('beside:') ? look.value.slice(7) : ''))
const versions = useStrandQuery('versions', 'groups', (id) =>
  ask(client.GET('/api/strands/{strand_id}/versions/{step}', { params: { path: { strand_id: id, step: 'groups' } } })),
)
const others = computed(() => (versions.data.value ?? []).filter((each) => each.identity !== identity.value))
const means = useStrandQuery(
  'group means',
  identity,
  (id) => ask(client.GET('/api/strands/{strand_id}/relate/groups/means', { params: strandPath(id) })),
  () => look.value === 'words',
)
const crossed = useStrandQuery(
  'groups crossed',
  () => [identity.value, look.value],
  (id) =>
    by.value
      ? ask(
          client.GET('/api/strands/{strand_id}/relate/groups/by/{field}', {
            params: { path: { strand_id: id, field: by.value } },
          }),
        )
      : ask(
          client.GET('/api/strands/{strand_id}/relate/groups/beside/{identity}', {
            params: { path: { strand_id: id, identity: other.value } },
          }),
        ),
  () => !!by.value || !!other.value,
)
</script>

<template>
  <section>
    <label class="small"
      >side by side
      <select :value="look" aria-label="Compare groups by" @change="set({ look: text($event) })">
        <option value="words">by the mean weight of their words</option>
        <option v-for="field in props.found.fields" :key="field" :value="`by:${field}`">over {{ field }}</option>
        <option v-for="each in others" :key="each.identity" :value="`beside:${each.identity}`">
          beside {{ each.said.name }}, {{ each.said.size }}
        </option>
      </select></label
    >
    <template v-if="look === 'words'">
      <MeanGrid v-if="means.data.value" :found="means.data.value" />
      <Waiting v-else what="Weighing the words of all groups" />
    </template>
    <template v-else>
      <p v-if="crossed.error.value" class="notice bad">{{ crossed.error.value.message }}</p>
      <CrossedTable v-else-if="crossed.data.value" :found="crossed.data.value" :field="by" />
      <Waiting v-else what="Counting" />
    </template>
  </section>
</template>
