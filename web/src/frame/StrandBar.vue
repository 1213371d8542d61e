<script setup lang="ts">
import Popover from 'primevue/popover'
import { computed, ref } from 'vue'
import { RouterLink, useRouter } from 'vue-router'

import { ask, client, type Schemas, type Strand } from '@/api/client'
import { strandPath, useStrandChange, useStrandId, useStrandQuery } from '@/api/strand'
import { count } from '@/marks/format'
import { mode, switchTheme } from '@/theme/mode'

import { helpOpen } from './help'
import { working } from './jobs'
import { settingText } from './plies'
import { useStations } from './station'

const props = defineProps<{ strand?: Strand }>()
defineEmits<{ work: [] }>()
const router = useRouter()
const stations = useStations()
const id = useStrandId()
const menu = ref<InstanceType<typeof Popover>>()
const open = ref('')
const station = computed(() => stations.find((each) => each.makes && each.step === open.value)?.name ?? 'gather')

const plies = computed(() => {
  const strand = props.strand
  return strand
    ? strand.plies.filter((ply) => ply.identity).map((ply) => ({ ...ply, name: ply.said.name || strand.name }))
    : []
})
const versions = useStrandQuery(
  'versions',
  open,
  (strand) =>
    ask(
      client.GET('/api/strands/{strand_id}/versions/{step}', {
        params: { path: { strand_id: strand, step: open.value as Schemas['Ply']['step'] } },
      }),
    ),
  () => open.value !== '',
)
const switchTo = useStrandChange((strand, identity: string) =>
  ask(
    client.POST('/api/strands/{strand_id}/switch', {
      params: strandPath(strand),
      body: { identity },
    }),
  ),
)
const others = computed(() => (versions.data.value ?? []) as Schemas['Version'][])

function show(event: Event, step: Schemas['Ply']['step']) {
  open.value = step
  menu.value?.toggle(event)
}
function choose(identity: string) {
  switchTo.mutate(identity)
  menu.value?.hide()
}
async function fork() {
  const made = await ask(client.POST('/api/strands/{strand_id}/fork', { params: strandPath(id.value) }))
  menu.value?.hide()
  router.push(`/strand/${made.strand}/clean`)
}
</script>

<template>
  <header class="bar">
    <div class="chain">
      <template v-for="(ply, at) in plies" :key="ply.step">
        <svg v-if="at" class="twist" width="26" height="12" viewBox="0 0 26 12" aria-hidden="true">
          <path d="M2 6C6 0 10 0 13 6S20 12 24 6" style="stroke: var(--madder)" />
          <path d="M2 6C6 12 10 12 13 6S20 0 24 6" style="stroke: var(--woad)" />
        </svg>
        <button
          class="plain ply"
          :class="ply.state"
          :title="ply.state === 'stale' ? 'out of date: press r to rebuild' : 'other versions'"
          aria-haspopup="dialog"
          @click="show($event, ply.step)">
          <b>{{ ply.name }}</b> <span class="soft">{{ ply.said.size }}</span>
          <span v-if="ply.state === 'stale'" class="late">out of date</span>
          <span v-if="ply.doubt" class="late">{{ ply.doubt }}</span>
        </button>
      </template>
      <span v-if="strand?.summaries.fit" class="ply soft small labelled">
        {{ strand.labelled }} of {{ strand.summaries.fit.topics }} labelled
      </span>
      <RouterLink v-if="!strand" to="/" class="ply"><b>Skeinwork</b></RouterLink>
    </div>
    <nav class="right" aria-label="Tools">
      <RouterLink v-if="strand" :to="`/strand/${strand.id}/gather?focus=find`" class="tool"
        >Find <kbd>/</kbd></RouterLink
      >
      <button class="plain tool" @click="$emit('work')">
        Work <b :class="{ busy: working.length }">{{ count(working.length) }}</b>
      </button>
      <button class="plain tool" :aria-label="mode === 'dark' ? 'Light theme' : 'Dark theme'" @click="switchTheme">
        {{ mode === 'dark' ? 'Light' : 'Dark' }}
      </button>
      <button class="plain tool" aria-label="Keys and actions" @click="helpOpen = true">
        <kbd>?</kbd>
      </button>
    </nav>
    <Popover ref="menu">
      <div class="versions">
        <template v-if="open === 'corpus' && (strand?.siblings.length ?? 0) > 1">
          <p class="soft">Strands of this skein</p>
          <RouterLink
            v-for="sibling in strand?.siblings"
            :key="sibling.id"
            :to="`/strand/${sibling.id}/gather`"
            class="version">
            <b>{{ sibling.name }}</b><span v-if="sibling.id === strand?.id" class="soft"> · this one</span>
          </RouterLink>
        </template>
        <p class="soft">Made so far, newest first; what differs from the present one</p>
        <p v-if="!others.length">Nothing else yet.</p>
        <button
          v-for="version in others"
          :key="version.identity"
          class="plain version"
          @click="choose(version.identity)">
          <b v-if="version.current">the present one</b>
          <span v-else-if="!Object.keys(version.differs).length">same settings, other steps before</span>
          <span v-for="(pair, name) in version.differs" :key="name" class="difference">
            {{ name }}: <b>{{ settingText(pair.there) }}</b> <span class="soft">here {{ settingText(pair.here) }}</span>
          </span>
          <span v-if="open === 'corpus'" class="soft">{{ ' ' }}{{ version.said.size }}</span>
        </button>
        <div class="row wrap foot">
          <RouterLink :to="`/strand/${id}/${station}`">Go to {{ station }}</RouterLink>
          <button class="plain link" @click="fork">Fork this strand</button>
        </div>
      </div>
    </Popover>
  </header>
</template>

<style scoped>
.bar {
  grid-area: bar;
  display: flex;
  align-items: center;
  justify-content: space-between;
  border-bottom: 1px solid var(--hairline);
  padding: 0 1.1rem;
  min-width: 0;
}
.chain {
  display: flex;
  align-items: center;
  gap: 0.5rem;
  min-width: 0;
  overflow: hidden;
}
.twist path {
  fill: none;
  stroke-width: 1.6;
}
.twist {
  flex: none;
}
.ply {
  display: flex;
  gap: 0.35em;
  min-width: 0;
  white-space: nowrap;
  padding: 0.2rem 0.1rem;
  border-bottom: 2px solid transparent;
  color: var(--ink);
  text-decoration: none;
}
/* A name gives way, never a figure. */
.ply b {
  overflow: hidden;
  text-overflow: ellipsis;
}
.ply span {
  flex: none;
}
.ply:first-child {
  flex-shrink: 8;
}
.labelled {
  flex: none;
}
@media (max-width: 1200px) {
  .labelled {
    display: none;
  }
}
.ply:hover {
  border-color: var(--woad);
}
.ply.stale {
  border-bottom: 2px dashed var(--weld);
}
.late {
  color: var(--weld);
  font-size: 0.86rem;
}
.right {
  display: flex;
  gap: 0.9rem;
  align-items: center;
  white-space: nowrap;
  padding-left: 1rem;
}
.tool {
  color: var(--ink);
  text-decoration: none;
}
.busy {
  color: var(--woad);
}
.versions {
  width: 26rem;
  max-height: 60vh;
  overflow: auto;
}
.version {
  display: block;
  width: 100%;
  padding: 0.45rem 0.3rem;
  border-bottom: 1px solid var(--hairline);
  color: var(--ink);
  text-decoration: none;
}
.version:hover {
  background: var(--woad-wash);
}
.difference {
  display: block;
}
.foot {
  padding-top: 0.6rem;
}
</style>
