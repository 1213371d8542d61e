<script setup lang="ts">
import InputText from 'primevue/inputtext'
import ToggleSwitch from 'primevue/toggleswitch'
import { computed, nextTick, ref, watch } from 'vue'
import { useRoute, useRouter, type RouteLocationRaw } from 'vue-router'

import { helpOpen } from './help'
import { allActions, keysOn, switchKeys, useKey, type Action } from './keys'
import { useStations } from './station'

const route = useRoute()
const router = useRouter()
const stations = useStations()
const find = ref('')
const box = ref<HTMLElement>()
const shown = computed(() => {
  const wanted = find.value.toLowerCase()
  return helpOpen.value ? allActions().filter((action) => action.what.toLowerCase().includes(wanted)) : []
})
/** The rooms of all stations, of the strand that is open. */
const places = computed(() => {
  const wanted = find.value.toLowerCase()
  if (!helpOpen.value || !route.params.strand) return []
  return stations
    .flatMap((station) => (station.rooms ?? []).map((room, at) => ({ station, room, first: !at })))
    .map(({ station, room, first }) => ({
      what: `${station.label}: ${room.label}`,
      to: { name: station.name, params: { strand: route.params.strand }, query: first ? {} : { part: room.name } },
    }))
    .filter((each) => each.what.toLowerCase().includes(wanted))
})
function first() {
  if (shown.value[0]) run(shown.value[0])
  else if (places.value[0]) visit(places.value[0].to)
}
function visit(to: RouteLocationRaw) {
  helpOpen.value = false
  router.push(to)
}
function run(action: Action) {
  helpOpen.value = false
  action.run()
}
useKey('?', 'all keys', () => (helpOpen.value = !helpOpen.value))
useKey('.', 'search all actions', () => (helpOpen.value = true))
watch(helpOpen, async (open) => {
  find.value = ''
  await nextTick()
  if (open) box.value?.querySelector<HTMLElement>('input[type="text"]')?.focus()
})
</script>

<template>
  <template v-if="helpOpen">
    <div class="veil" @click="helpOpen = false" />
    <section ref="box" class="help" role="dialog" aria-label="Keys and actions" @keydown.esc="helpOpen = false">
      <div class="row spread">
        <h2>Keys and actions</h2>
        <label class="row small">
          Single keys
          <ToggleSwitch :model-value="keysOn" aria-label="Single keys" @update:model-value="switchKeys" />
        </label>
      </div>
      <InputText
        type="text"
        v-model="find"
        fluid
        placeholder="Search actions and rooms"
        aria-label="Search actions"
        @keydown.enter="first" />
      <ul>
        <li v-for="action in shown" :key="action.key">
          <button class="plain row" @click="run(action)">
            <kbd>{{ action.key }}</kbd> {{ action.what }}
          </button>
        </li>
        <li v-for="place in places" :key="place.what">
          <button class="plain row" @click="visit(place.to)">{{ place.what }}</button>
        </li>
      </ul>
      <p class="soft small">Single keys work outside text fields. Escape closes what is open.</p>
    </section>
  </template>
</template>

<style scoped>
.help {
  position: fixed;
  top: 10vh;
  left: 50%;
  transform: translateX(-50%);
  width: 30rem;
  max-height: 76vh;
  overflow: auto;
  z-index: 60;
  background: var(--raised);
  border: 1px solid var(--hairline);
  border-radius: 6px;
  padding: 1.1rem;
  box-shadow: var(--shadow);
  display: grid;
  gap: 0.7rem;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li button {
  padding: 0.3rem;
  width: 100%;
}
li button:hover {
  background: var(--woad-wash);
}
</style>
