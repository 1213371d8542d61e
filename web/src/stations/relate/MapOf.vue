<script setup lang="ts">
import { computed, ref, shallowRef, toRaw, watch } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { strandPath, useStrand, useStrandQuery } from '@/api/strand'
import { useTopics } from '@/api/topics'
import { useAddress } from '@/frame/address'
import { useEvidence } from '@/frame/evidence'
import ChartFrame from '@/marks/ChartFrame.vue'
import WorkingLines from '@/marks/WorkingLines.vue'
import { count, counted, decimal } from '@/marks/format'
import { inside, middle, nearer, readOutline, written, type Corner, type Sight } from '@/marks/scatter'

import MakeRow from './MakeRow.vue'
import MapLegend from './MapLegend.vue'
import MapSheet, { type Way } from './MapSheet.vue'
import RoomState from './RoomState.vue'
import { isOn, text, useBeside } from './beside'
import { MAP_STEPS, useMap, type MapOf } from './maps'

/** One map: its points, what they are told apart by, what is drawn round and what of the evidence lies where. */
const props = defineProps<{ of: MapOf }>()
type Settings = Schemas['MapSettings']
const { tried, set, make, identity, row } = useBeside<Settings>(MAP_STEPS[props.of].step)
const { id } = useStrand()
const { dye, label } = useTopics()
const address = useAddress()
const { request, text: selected, select } = useEvidence()
const { query, map, points, areas, told, colours } = useMap(
  props.of,
  identity,
  computed(() => address.get('by')),
)
const noun = props.of === 'words' ? 'word' : 'document'

const values = computed(() =>
  (colours.value?.values ?? []).map((value, at) => (colours.value?.topics ? label(colours.value.topics[at]) : value)),
)
const dyes = computed(() => values.value.map((_, at) => (colours.value?.topics ? dye(colours.value.topics[at]) : at)))
const only = computed(() => new Set(address.get('only').split('.').filter(Boolean).map(Number)))
function toggle(value: number) {
  const next = new Set(only.value)
  if (!next.delete(value)) next.add(value)
  address.set({ only: [...next].sort((one, other) => one - other).join('.') })
}
const pointDyes = computed(() =>
  colours.value ? Int16Array.from(colours.value.codes, (code) => (code < 0 ? -1 : dyes.value[code])) : undefined,
)
const counts = computed(() => {
  const [codes, alone] = [colours.value?.codes, only.value]
  return alone.size && codes ? (at: number) => alone.has(codes[at]) : () => true
})

const whole = computed<Sight>(() => ({
  x: map.value?.low[0] ?? 0,
  y: map.value?.low[1] ?? 0,
  size: map.value?.size ?? 1,
}))
const sight = ref<Sight>(whole.value)
watch(whole, (given) => (sight.value = given))
const way = ref<Way>('round')
const named = computed(() => address.get('names') !== 'none')

/** The evidence, where it lies on the map; what is drawn round shows before the server has answered. */
const formed = shallowRef<number[]>()
const outline = computed<Corner[]>(() => {
  const area = String(request.value?.area ?? '')
  return area && !area.startsWith('dense') && (request.value?.area_of ?? 'documents') === props.of
    ? readOutline(area)
    : []
})
const onMap = useStrandQuery(
  'evidence on a map',
  () => [props.of, identity.value, selected.value],
  (strand) =>
    ask(
      client.GET('/api/strands/{strand_id}/relate/maps/{of}/selected', {
        params: { path: { ...strandPath(strand).path, of: props.of }, query: request.value ?? {} },
      }),
    ),
  () => !!identity.value && !!selected.value && !!map.value,
)
const answered = computed(() => (selected.value && !onMap.isPlaceholderData.value ? onMap.data.value : undefined))
const lit = computed(() => {
  if (formed.value && !answered.value) return mask(points.value.x.length, formed.value)
  if (!answered.value) return undefined
  const items = new Set(toRaw(answered.value).items)
  return Uint8Array.from(points.value.items, (item) => Number(items.has(item)))
})
function mask(size: number, set: number[]) {
  const found = new Uint8Array(size)
  for (const at of set) found[at] = 1
  return found
}
watch(answered, () => (formed.value = undefined))
const drawn = ref('')
function take(corners: Corner[]) {
  if (!map.value) return
  formed.value = inside(points.value.x, points.value.y, corners).filter(counts.value)
  drawn.value = `${counted(formed.value.length, noun)} drawn round.`
  const alone = only.value.size ? { area_by: told.value, area_only: [...only.value].join('.') } : {}
  // What is drawn round shows first; what follows of it, the evidence and the address, after that.
  requestAnimationFrame(() => setTimeout(() => select({ area: written(corners), area_of: props.of, ...alone })))
}
function open(at: number) {
  const item = points.value.items[at]
  if (item === undefined) return
  if (props.of === 'words') {
    const name = point.data.value?.item === item ? point.data.value.passage : undefined
    if (name) select({ term: name })
  } else select({ document: item })
}
const clear = () => address.set({ ev: '', evp: '' })

const hovered = ref<{ at: number; x: number; y: number }>({ at: -1, x: 0, y: 0 })
const item = computed(() => (hovered.value.at < 0 ? undefined : points.value.items[hovered.value.at]))
const point = useStrandQuery(
  'point of a map',
  () => [props.of, identity.value, item.value],
  (strand) =>
    ask(
      client.GET('/api/strands/{strand_id}/relate/maps/{of}/points/{item}', {
        params: { path: { ...strandPath(strand).path, of: props.of, item: item.value ?? 0 } },
      }),
    ),
  () => item.value !== undefined,
)
const tip = computed(() => (point.data.value?.item === item.value ? point.data.value : undefined))
const valueOf = (at: number) => {
  const code = colours.value?.codes[at] ?? -1
  return code < 0 ? '' : values.value[code]
}

const word = ref('')
const find = () => word.value.trim() && select({ term: word.value.trim().toLowerCase() })
const worked = computed(() => address.get('worked') === '1')
const working = useStrandQuery(
  'working of a map',
  () => [props.of, identity.value],
  (strand) =>
    ask(
      client.GET('/api/strands/{strand_id}/relate/maps/{of}/working', {
        params: { path: { ...strandPath(strand).path, of: props.of } },
      }),
    ),
  () => !!identity.value && worked.value,
)
const rows = computed(() => (answered.value?.rows ?? []).map((each) => [each.name, each.brief, each.x, each.y]))
const title = computed(() => `Map of ${counted(map.value?.x.length ?? 0, noun)}`)
const colourName = (by: string) =>
  by === 'topic' ? 'leading topic' : by === 'group' ? 'group of Groups' : by.replace(/^field /, '')
</script>

<template>
  <MakeRow v-if="tried" what="the map" v-bind="row" @make="make()">
    <label title="Few: small knots show, and what lies between them is loose. Many: the large order, smoothed."
      >neighbours kept near
      <input
        type="number"
        min="2"
        max="200"
        :value="tried.neighbours"
        aria-label="Neighbours kept near"
        @change="set({ neighbours: Number(text($event)) })"
    /></label>
    <label title="Little: points spread and fill the sheet. Much: what is alike draws into tight knots far apart."
      >tightness
      <input
        type="number"
        min="0.01"
        max="20"
        step="any"
        :value="tried.tightness"
        aria-label="Tightness"
        @change="set({ tightness: Number(text($event)) })"
    /></label>
    <label
      >seed
      <input type="number" min="0" :value="tried.seed" aria-label="Seed" @change="set({ seed: Number(text($event)) })"
    /></label>
    <template #hint>
      Few neighbours: small knots; many: the large order. Little tightness fills the sheet; much draws what is alike
      together.
    </template>
  </MakeRow>
  <template v-if="map">
    <ChartFrame
      :title="title"
      :note="map.says"
      :name="`map-of-${of}`"
      :header="['name', 'what', 'x', 'y']"
      :rows="rows">
      <div class="row wrap small tools">
        <span class="row" role="group" aria-label="What dragging does">
          <button class="plain tool" :aria-pressed="way === 'round'" @click="way = 'round'">draw round</button>
          <button class="plain tool" :aria-pressed="way === 'box'" @click="way = 'box'">frame</button>
          <button class="plain tool" :aria-pressed="way === 'move'" @click="way = 'move'">move</button>
        </span>
        <span class="row" role="group" aria-label="How near">
          <button class="plain tool" aria-label="Nearer" @click="sight = nearer(sight, 1.5, middle(sight))">+</button>
          <button class="plain tool" aria-label="Farther" @click="sight = nearer(sight, 1 / 1.5, middle(sight))">
            −
          </button>
          <button class="plain tool" @click="sight = whole">whole</button>
        </span>
        <label v-if="map.colours.length"
          >told apart by
          <select :value="told" aria-label="Told apart by" @change="address.set({ by: text($event), only: '' })">
            <option v-for="by in map.colours" :key="by" :value="by">{{ colourName(by) }}</option>
          </select></label
        >
        <form class="row" @submit.prevent="find">
          <input v-model="word" placeholder="a word" aria-label="Light up a word" size="12" />
          <button class="plain link">light up</button>
        </form>
        <label
          ><input type="checkbox" :checked="named" @change="address.set({ names: isOn($event) ? '' : 'none' })" />
          names</label
        >
      </div>
      <div class="spread-out">
        <MapSheet
          v-model:sight="sight"
          :x="points.x"
          :y="points.y"
          :dye="pointDyes"
          :counts="counts"
          :lit="lit"
          :areas="areas"
          :whole="whole"
          :outline="outline"
          :way="way"
          :height="470"
          :names="named"
          :said="`${title}: arrow keys move a frame, with Shift they grow it, Enter takes what is inside; + and − come nearer`"
          @outline="take"
          @point="open"
          @forming="drawn = `${counted($event, noun)} in the frame.`"
          @hover="(at, place) => (hovered = { at, ...place })">
          <div
            v-if="hovered.at >= 0"
            class="tip small"
            :style="{ left: `${Math.max(4, Math.min(hovered.x + 14, 360))}px`, top: `${hovered.y + 14}px` }">
            <b>{{ tip?.name ?? '…' }}</b> <span class="soft">{{ tip?.brief }}</span>
            <span v-if="valueOf(hovered.at)" class="soft"> · {{ valueOf(hovered.at) }}</span>
            <span v-if="of !== 'words'" class="book passage">{{ tip?.passage }}</span>
          </div>
        </MapSheet>
        <MapLegend
          v-if="colours"
          :values="values"
          :counts="colours.counts"
          :dyes="dyes"
          :only="only"
          :others="colours.others"
          @toggle="toggle"
          @all="address.set({ only: '' })" />
      </div>
      <p class="small" aria-live="polite">
        <template v-if="answered">
          {{ counted(answered.items.length, noun) }} of the evidence on the map.
          <template v-if="answered.trust != null"
            >There it can be trusted <b class="numbers">{{ decimal(answered.trust) }}</b><template
              v-if="answered.looked_at < answered.items.length">
              (of {{ count(answered.looked_at) }} looked at)</template
            >,</template
          >
        </template>
        <template v-else>{{ drawn }}</template>
        as a whole <b class="numbers">{{ decimal(map.trust) }}</b>: {{ map.trust_says }}.
        <button v-if="selected" class="plain link" @click="clear">let go of it</button>
        <button class="plain link" :aria-expanded="worked" @click="address.set({ worked: worked ? '' : '1' })">
          worked out
        </button>
      </p>
      <template v-if="worked && working.data.value">
        <WorkingLines :lines="working.data.value.lines" />
        <p class="small soft">{{ working.data.value.note }}</p>
      </template>
    </ChartFrame>
    <section v-if="areas" class="areas">
      <h2>Where they lie close together</h2>
      <p class="small soft">
        {{ counted(areas.areas.length, 'dense area') }}, each called by
        {{ of === 'words' ? 'its most frequent words' : 'the words that set its documents apart' }};
        {{ counted(areas.outside, noun) }} in none.
        <a :href="`/api/strands/${id}/relate/maps/${of}/map.csv`">Coordinates as a table</a>
      </p>
      <p class="row wrap names">
        <button
          v-for="each in areas.areas"
          :key="each.area"
          class="plain chip"
          :aria-pressed="request?.area === `dense ${each.area}`"
          @click="select({ area: `dense ${each.area}`, area_of: of })">
          {{ each.name }} <span class="soft numbers">{{ count(each.items) }}</span>
        </button>
      </p>
    </section>
  </template>
  <RoomState v-else :made="!!identity" :fault="query.error.value?.message" what="Reading the map">
    <template v-if="of === 'documents'"
      >Documents with the same words lie side by side; draw round some to read them.</template
    >
    <template v-else-if="of === 'topics'"
      >Documents with the same topics lie side by side, by the fit of this strand.</template
    >
    <template v-else>Words that stand near the same words lie side by side.</template>
    What it is laid out from is made first where it is not there yet.
  </RoomState>
</template>

<style scoped>
.tools {
  gap: 0.3rem 1.1rem;
  margin: 0.2rem 0 0.4rem;
}
.tools .row {
  gap: 0.15rem;
}
.tool {
  min-height: 26px;
  min-width: 26px;
  text-align: center;
  padding: 0 0.45rem;
  border: 1px solid var(--hairline);
  border-radius: 4px;
}
.tool:hover,
.tool[aria-pressed='true'] {
  border-color: var(--woad);
  color: var(--woad);
}
.tool[aria-pressed='true'] {
  font-weight: 700;
}
.spread-out {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 12.5rem;
  gap: 0.9rem;
}
.spread-out > :deep(.legend) {
  max-height: 472px;
}
.tip {
  position: absolute;
  max-width: 22rem;
  background: var(--paper);
  border: 1px solid var(--soft);
  border-radius: 4px;
  padding: 0.3rem 0.5rem;
  pointer-events: none;
  z-index: 3;
}
.passage {
  display: block;
}
.names {
  gap: 0.3rem;
}
.chip[aria-pressed='true'] {
  border-color: var(--woad);
  font-weight: 700;
}
p {
  margin: 0.3rem 0;
}
</style>
