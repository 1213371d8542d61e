<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { computed, ref } from 'vue'

import { ask, client } from '@/api/client'
import JobNotice from '@/frame/JobNotice.vue'
import { isAtWork, jobs } from '@/frame/jobs'
import { say } from '@/frame/notices'
import { counted, size } from '@/marks/format'

/** What lies on disk, by skein, and what no skein has any more: shown, and cleared on wish. */
const queries = useQueryClient()
const use = useQuery({ queryKey: ['storage'], queryFn: () => ask(client.GET('/api/storage')) })
const asking = ref<'deleted' | 'unused'>()
const deleted = computed(() => use.data.value?.skeins.filter((each) => each.deleted) ?? [])
const most = computed(() => Math.max(1, ...(use.data.value?.skeins ?? []).map((each) => each.bytes)))
/** How much of a skein is its own. */
const share = (skein: { bytes: number; own: number }) =>
  skein.own === skein.bytes ? '' : skein.own ? `${size(skein.own)} in no other` : 'all in others too'
const own = computed(() => deleted.value.reduce((sum, each) => sum + each.own, 0))
const clearing = computed(() => jobs.value.filter((job) => job.kind === 'clear' && isAtWork(job)))
async function clear(what: 'deleted' | 'unused') {
  asking.value = undefined
  await ask(client.POST('/api/storage/clear', { body: { deleted: false, unused: false, [what]: true } })).catch(
    (fault: Error) => say(fault.message, 'bad'),
  )
  queries.invalidateQueries({ queryKey: ['skeins'] })
}
</script>

<template>
  <section v-if="use.data.value">
    <h2>On this disk</h2>
    <p class="soft small folder">
      <span class="cut" :title="use.data.value.folder">{{ use.data.value.folder }}</span> ·
      {{ size(use.data.value.total) }} · {{ size(use.data.value.free) }} free
    </p>
    <table>
      <tbody>
        <tr v-for="skein in use.data.value.skeins" :key="skein.id">
          <th scope="row" class="cut" :class="{ soft: skein.deleted }" :title="skein.name">
            <s v-if="skein.deleted">{{ skein.name }}</s>
            <template v-else>{{ skein.name }}</template>
          </th>
          <td class="thread" aria-hidden="true"><i :style="{ width: `${(100 * skein.bytes) / most}%` }" /></td>
          <td class="numbers">{{ size(skein.bytes) }}</td>
          <td class="soft small numbers">
            {{ share(skein) }}
          </td>
        </tr>
        <tr>
          <th scope="row">Search index, records, and where fits are</th>
          <td />
          <td class="numbers">{{ size(use.data.value.other) }}</td>
          <td />
        </tr>
      </tbody>
    </table>
    <JobNotice v-for="job in clearing" :key="job.id" :job="job" />
    <p v-if="deleted.length" class="row">
      <span class="grow">
        {{ counted(deleted.length, 'deleted skein') }}
        {{ own ? `still ${deleted.length === 1 ? 'holds' : 'hold'} ${size(own)}` : 'can still be brought back' }}, until
        Skeinwork is stopped.
      </span>
      <template v-if="asking === 'deleted'">
        <span class="soft small">It can't be brought back then.</span>
        <Button label="Remove for good" size="small" severity="danger" @click="clear('deleted')" />
        <Button label="Keep" size="small" severity="secondary" @click="asking = undefined" />
      </template>
      <Button v-else label="Remove now" size="small" severity="secondary" @click="asking = 'deleted'" />
    </p>
    <p v-if="use.data.value.unused.bytes" class="row">
      <span class="grow">
        No skein uses {{ counted(use.data.value.unused.files, 'file') }}
        <template v-if="use.data.value.unused.results">
          and {{ counted(use.data.value.unused.results, 'result') }}
        </template>
        ({{ size(use.data.value.unused.bytes) }}).
        <span class="soft small">{{ use.data.value.unused.names.join(', ') }}</span>
      </span>
      <template v-if="asking === 'unused'">
        <Button label="Remove for good" size="small" severity="danger" @click="clear('unused')" />
        <Button label="Keep" size="small" severity="secondary" @click="asking = undefined" />
      </template>
      <Button v-else label="Remove now" size="small" severity="secondary" @click="asking = 'unused'" />
    </p>
  </section>
</template>

<style scoped>
table {
  width: 100%;
  border-collapse: collapse;
  table-layout: fixed;
}
th {
  width: 16rem;
  font-weight: 400;
  text-align: left;
}
td,
th {
  padding: 0.2rem 0.3rem;
}
.thread i {
  display: block;
  height: 3px;
  min-width: 1px;
  background: var(--woad);
}
.numbers {
  width: 8rem;
  text-align: right;
}
.folder {
  display: flex;
  gap: 0.3rem;
}
</style>
