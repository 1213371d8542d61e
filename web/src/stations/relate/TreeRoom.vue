<script setup lang="ts">
import { computed, ref, watch } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { strandPath, useStrandQuery } from '@/api/strand'
import { useAddress } from '@/frame/address'
import { useEvidence } from '@/frame/evidence'
import ChartFrame from '@/marks/ChartFrame.vue'
import { count, counted, decimal, percent } from '@/marks/format'

import { isOn, text, useBeside, type Weighting } from './beside'
import ClusterSheet from './ClusterSheet.vue'
import NeighbourSheet from './NeighbourSheet.vue'
import MakeRow from './MakeRow.vue'
import RoomState from './RoomState.vue'
import { clustersAt, heightOfCut } from './tree'
import TreeThreads from './TreeThreads.vue'
import WeightingChoice from './WeightingChoice.vue'

/** Words, or documents, that keep company: a tree with a cut that is dragged or typed. */
type Settings = Schemas['TreeSettings']
const { choices, tried, set, make, identity, row } = useBeside<Settings>('tree')
const address = useAddress()
const { request } = useEvidence()
const wantedCut = computed(() => Number(address.get('cut')) || undefined)
const tree = useStrandQuery(
  'tree',
  () => [identity.value, wantedCut.value],
  (strand) =>
    ask(
      client.GET('/api/strands/{strand_id}/relate/tree', {
        params: { ...strandPath(strand), query: { number: wantedCut.value } },
      }),
    ),
  () => !!identity.value,
)
const found = computed(() => (identity.value ? tree.data.value : undefined))
/** The number of clusters while the cut is moved; the server's names follow. */
const number = ref(0)
watch(
  () => found.value?.number,
  (given) => given && (number.value = given),
  { immediate: true },
)
function cut(clusters: number) {
  number.value = Math.min(Math.max(Math.round(clusters), 1), found.value?.labels.length ?? 1)
  address.set({ cut: number.value === found.value?.suggested ? '' : String(number.value), open: '' })
}
const opened = computed(() => new Set(address.get('open').split('.').filter(Boolean).map(Number)))
function toggle(node: number) {
  const next = new Set(opened.value)
  if (!next.delete(node)) next.add(node)
  address.set({ open: [...next].join('.') })
}
/** How high a line is, so that more of them can be seen at once, or each more easily. */
const HIGH: Record<string, number> = { close: 0.7, '': 1, wide: 1.35 }
const high = computed(() => HIGH[address.get('zoom')] ?? 1)
const openAll = (on: boolean) =>
  address.set({ open: on ? found.value?.clusters.map((each) => each.node).join('.') : '' })
const isWords = computed(() => found.value?.settings.of !== 'documents')
const current = computed(() => {
  const node = Number(request.value?.branch ?? NaN)
  return found.value?.clusters.find((each) => each.node === node)
})
/** The item that is selected, where one is and not a cluster. */
const leaf = computed(() => {
  const node = Number(request.value?.branch ?? NaN)
  return !current.value && node < (found.value?.labels.length ?? 0) ? node : undefined
})
const rows = computed(() =>
  (found.value?.clusters ?? []).map((cluster, at) => [
    at + 1,
    cluster.heads.join(' '),
    cluster.size,
    cluster.recurrence ?? null,
    cluster.height,
    cluster.terms.join(' '),
  ]),
)
/** Trees drawn anew where a preview left them out. */
const resamples = computed(() => tried.value?.resamples || (choices.value?.suggested.tree as Settings).resamples)
/** Items of a preview. */
const PREVIEW = 300
const picked = computed({
  get: () => (tried.value?.picked ?? []).join('\n'),
  set: (lines) =>
    set({
      picked: lines
        .split('\n')
        .map((each) => each.trim())
        .filter(Boolean),
    }),
})
</script>

<template>
  <div class="room">
    <MakeRow
      v-if="choices && tried"
      what="the tree"
      v-bind="row"
      :preview="!tried.picked?.length && (tried.most ?? 0) > 2 * PREVIEW ? PREVIEW : 0"
      @make="make({ resamples })"
      @preview="make({ most: PREVIEW, resamples: 0 })">
      <label
        >of
        <select
          :value="tried.of"
          aria-label="Of words or documents"
          @change="set({ of: text($event) as Settings['of'] })">
          <option>words</option>
          <option>documents</option>
        </select></label
      >
      <label
        >so many
        <input
          type="number"
          min="3"
          max="3000"
          :value="tried.most"
          aria-label="How many"
          @change="set({ most: Number(text($event)) })"
      /></label>
      <label v-if="tried.of === 'words'"
        >the first by
        <select :value="tried.by" aria-label="Chosen by" @change="set({ by: text($event) as Settings['by'] })">
          <option value="weight">weight</option>
          <option value="count">count</option>
          <option value="documents">documents with it</option>
        </select></label
      >
      <WeightingChoice :choices="choices" :value="tried.weighting as Weighting" @change="set({ weighting: $event })" />
      <label
        >distance
        <select
          :value="tried.distance"
          aria-label="Distance"
          @change="set({ distance: text($event) as Settings['distance'] })">
          <option v-for="each in choices.distances" :key="each.name" :value="each.name" :title="each.about">
            {{ each.title }}
          </option>
        </select></label
      >
      <label
        >joined by
        <select
          :value="tried.linkage"
          aria-label="Linkage"
          @change="set({ linkage: text($event) as Settings['linkage'] })">
          <option v-for="each in choices.linkages" :key="each.name" :value="each.name" :title="each.about">
            {{ each.title }}
          </option>
        </select></label
      >
      <template #hint>
        {{ choices.distances.find((each) => each.name === tried?.distance)?.about }};
        {{ choices.linkages.find((each) => each.name === tried?.linkage)?.about }}.
        <template v-if="tried.of === 'words'">Suggested: {{ choices.why.tree }}.</template>
        <details v-if="tried.of === 'words'" class="inline">
          <summary>these words only{{ tried.picked?.length ? ` (${tried.picked.length})` : '' }}</summary>
          <textarea v-model.lazy="picked" rows="4" aria-label="Words of the tree, one a line" />
        </details>
      </template>
    </MakeRow>
    <template v-if="found">
      <ChartFrame
        :title="`${counted(found.labels.length, isWords ? 'word' : 'document')} in ${counted(number, 'cluster')}`"
        :note="found.says"
        name="tree"
        :header="['cluster', 'central', 'size', 'comes back', 'height', 'terms']"
        :rows="rows">
        <div class="row wrap small cutting">
          <label
            >cut into
            <input
              type="number"
              min="1"
              :max="found.labels.length"
              :value="number"
              aria-label="Number of clusters"
              @change="cut(Number(text($event)))" />
            clusters</label
          >
          <label
            >or at height
            <input
              type="number"
              min="0"
              step="any"
              :value="decimal(heightOfCut(found, number), 3)"
              aria-label="Height of the cut"
              @change="cut(clustersAt(found, Number(text($event))))"
          /></label>
          <button v-if="number !== found.suggested" class="plain link" @click="cut(found.suggested)">
            back to {{ count(found.suggested) }}
          </button>
          <span class="soft grow">Suggested {{ count(found.suggested) }}: {{ found.why }}.</span>
          <label
            >lines
            <select
              :value="address.get('zoom')"
              aria-label="Height of lines"
              @change="address.set({ zoom: text($event) })">
              <option value="close">close</option>
              <option value="">usual</option>
              <option value="wide">wide</option>
            </select></label
          >
          <label><input type="checkbox" :checked="opened.size > 0" @change="openAll(isOn($event))" /> unfold all</label>
        </div>
        <TreeThreads
          :tree="found"
          :number="number"
          :clusters="found.number === number ? found.clusters : []"
          :labels="found.labels"
          :seen="found.seen"
          :opened="opened"
          :high="high"
          :stands="found.stands"
          @cut="cut"
          @toggle="toggle" />
      </ChartFrame>
      <NeighbourSheet v-if="leaf !== undefined" :place="leaf" />
      <ClusterSheet
        v-if="current"
        :cluster="current"
        :words="isWords"
        :open="opened.has(current.node)"
        @toggle="toggle(current.node)" />
      <p v-else-if="leaf === undefined" class="soft small">
        Pick a cluster for its words and what to do with them. Drag the needle, or use ← and → on it, for more or fewer.
      </p>
      <p class="soft small">
        {{ found.sure }}
        <a :href="`/api/strands/${$route.params.strand}/relate/tree/distances.csv`">All distances as a table</a>
      </p>
    </template>
    <RoomState v-else :made="!!identity" :fault="tree.error.value?.message" what="Reading the tree">
      Words that stand in the same documents run together like threads; the tree shows which, and how far apart the rest
      lies. {{ percent(Math.min(1, (tried?.most ?? 0) / Math.max(1, choices?.terms ?? 1)), 0) }} of the
      {{ count(choices?.terms ?? 0) }} terms are in it as set above.
    </RoomState>
  </div>
</template>

<style scoped>
.cutting {
  gap: 0.3rem 1.1rem;
  margin: 0.2rem 0 0.5rem;
}
.cutting input[type='number'] {
  width: 5rem;
}
.inline {
  display: inline-block;
}
textarea {
  display: block;
  width: 18rem;
}
</style>
