<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'

import { ask, client, type Schemas } from '@/api/client'
import JobNotice from '@/frame/JobNotice.vue'
import { hasStopped, isAtWork, jobs } from '@/frame/jobs'
import { say } from '@/frame/notices'

import DiskUse from './DiskUse.vue'
import ImportPanel from './ImportPanel.vue'
import { sendForm } from '@/frame/uploads'
import SkeinRow from './SkeinRow.vue'

const router = useRouter()
const queries = useQueryClient()
const skeins = useQuery({ queryKey: ['skeins'], queryFn: () => ask(client.GET('/api/skeins')) })
const picker = ref<HTMLInputElement>()
const opening = computed(() =>
  jobs.value.filter((job) => job.kind === 'unpack' && (isAtWork(job) || hasStopped(job))).slice(0, 1),
)
const demo = useMutation({
  mutationFn: () => ask(client.POST('/api/demo')),
  onSuccess: (made: Schemas['Made']) => {
    queries.invalidateQueries({ queryKey: ['skeins'] })
    router.push(`/strand/${made.strand}/track`)
  },
})
async function openFile(event: Event) {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (!file) return
  const form = new FormData()
  form.append('file', file)
  await sendForm('/api/skeins/open', form).catch((fault: Error) => say(fault.message, 'bad'))
  if (picker.value) picker.value.value = ''
}
</script>

<template>
  <div class="station start">
    <section>
      <h1>Bring documents in</h1>
      <ImportPanel />
    </section>
    <section>
      <div class="row wrap">
        <h2 class="grow">Skeins on this machine</h2>
        <Button
          label="Open the demo"
          size="small"
          severity="secondary"
          :loading="demo.isPending.value"
          @click="demo.mutate()" />
        <Button label="Open a skein from a file" size="small" severity="secondary" @click="picker?.click()" />
        <input ref="picker" type="file" accept=".zip" hidden aria-label="File of a skein" @change="openFile" />
      </div>
      <JobNotice v-for="job in opening" :key="job.id" :job="job" />
      <p v-if="skeins.data.value && !skeins.data.value.length" class="soft">
        None yet. Bring documents in, or look at the demo first: a made-up corpus, worked through.
      </p>
      <ul>
        <SkeinRow v-for="skein in skeins.data.value" :key="skein.id" :skein="skein" />
      </ul>
    </section>
    <DiskUse />
  </div>
</template>

<style scoped>
.start {
  display: grid;
  gap: 2rem;
  align-content: start;
  max-width: 66rem;
}
ul {
  list-style: none;
  padding: 0;
}
</style>
