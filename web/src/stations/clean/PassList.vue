<script setup lang="ts">
import { computed, nextTick, ref } from 'vue'

import type { Schemas } from '@/api/client'
import { useWanted } from '@/api/strand'
import SettingField from '@/frame/SettingField.vue'
import { count, counted } from '@/marks/format'

import LimitSetting from './LimitSetting.vue'
import { usePasses, type Pass } from './passes'

const props = defineProps<{ survivals: Schemas['PassSurvival'][] }>()
/** The key of the pass that is open; the specimen shows what is left after it. */
const open = defineModel<string>('open', { required: true })
const { wanted, change } = useWanted()
const passes = usePasses()
const dragged = ref(-1)
const over = ref(-1)
const list = ref<HTMLElement>()
const left = computed(() => new Map(props.survivals.map((row) => [row.key, row])))
/** Words to name beside a pass that is on. */
const named = (pass: Pass) => (pass.on ? left.value.get(pass.key ?? '') : undefined)
const kept = (pass: Pass) => (pass as { keep?: string[] }).keep ?? []
/** Passes that need more than plain fields, by their kind. */
const own = import.meta.glob<{ default: object }>('./own/*.vue', { eager: true })
const ownPart = (pass: Pass) => own[`./own/${pass.kind}.vue`]?.default

function move(from: number, to: number) {
  passes.move(from, to)
  nextTick(() => (list.value?.querySelectorAll('button.name')[to + 1] as HTMLElement | undefined)?.focus())
}
function drop(to: number) {
  if (dragged.value >= 0) passes.move(dragged.value, to)
  dragged.value = over.value = -1
}
function add(event: Event) {
  const choice = event.target as HTMLSelectElement
  open.value = passes.add(choice.value)
  choice.value = ''
}
function setRule(part: object) {
  const clean = wanted.value?.clean
  if (clean) change({ clean: { ...clean, rule: { ...clean.rule, ...part } as typeof clean.rule } })
}
const rule = computed(() => wanted.value?.clean?.rule)
</script>

<template>
  <ol ref="list">
    <li class="pass">
      <span class="bead" />
      <div class="grow">
        <button
          class="plain name row spread"
          :aria-expanded="open === 'rule'"
          @click="open = open === 'rule' ? '' : 'rule'">
          <b>Tokens</b>
        </button>
        <span class="soft small"
          >{{ rule?.rule === 'letters' ? 'split at non-letters' : 'Unicode words (UAX #29)'
          }}{{ { keep: '', split: ', hyphens split', both: ', hyphens both ways' }[rule?.hyphens ?? 'keep'] }}</span
        >
        <div v-if="open === 'rule'" class="settings small">
          <label
            ><input type="radio" :checked="rule?.rule === 'unicode'" @change="setRule({ rule: 'unicode' })" /> Unicode
            words; addresses, emoji and hashtags whole</label
          >
          <label
            ><input type="radio" :checked="rule?.rule === 'letters'" @change="setRule({ rule: 'letters' })" /> split at
            every non-letter</label
          >
          <label
            >hyphenated words
            <select :value="rule?.hyphens" @change="setRule({ hyphens: ($event.target as HTMLSelectElement).value })">
              <option value="keep">as one word</option>
              <option value="split">as their parts</option>
              <option value="both">as both</option>
            </select></label
          >
        </div>
      </div>
    </li>
    <li
      v-for="(pass, at) in passes.list.value"
      :key="pass.key || at"
      class="pass"
      :class="{ off: !pass.on, over: over === at, open: open === pass.key }"
      draggable="true"
      @dragstart="dragged = at"
      @dragover.prevent="over = at"
      @dragend="dragged = over = -1"
      @drop.prevent="drop(at)"
      @keydown.alt.up.prevent="move(at, at - 1)"
      @keydown.alt.down.prevent="move(at, at + 1)">
      <button
        class="plain bead"
        role="switch"
        :aria-checked="pass.on"
        :aria-label="`${passes.title(pass).toLowerCase()} ${pass.on ? 'on' : 'off'}`"
        @click="passes.set(at, { on: !pass.on })" />
      <div class="grow">
        <button
          class="plain name row spread"
          :aria-expanded="open === pass.key"
          @click="open = open === pass.key ? '' : (pass.key ?? '')">
          <b>{{ passes.title(pass) }}</b>
          <span v-if="!pass.on" class="soft small">off</span>
          <span
            v-else-if="passes.hint(pass) || passes.idle(pass)"
            class="warned small"
            title="There is something to know of this pass"
            >look</span
          >
          <span v-else-if="left.get(pass.key ?? '')?.removed" class="loss small numbers"
            >−{{ count(left.get(pass.key ?? '')?.removed ?? 0) }}</span
          >
        </button>
        <span class="soft small cut line">{{ passes.said(pass) }}</span>
        <div v-if="open === pass.key" class="settings small">
          <p v-if="passes.hint(pass)" class="notice">{{ passes.hint(pass) }}</p>
          <p v-if="pass.on && passes.idle(pass)" class="notice">
            {{ passes.idle(pass)?.said }}
            <button
              v-if="typeof passes.idle(pass)?.better === 'number'"
              class="plain link"
              @click="move(at, passes.idle(pass)?.better ?? at)">
              move it there
            </button>
          </p>
          <p v-if="named(pass)?.concerned.length">
            {{ named(pass)?.says[0] }}: <span class="book">{{ named(pass)?.concerned.join(', ') }}</span>
          </p>
          <p v-if="named(pass)?.offered.length" class="row wrap">
            {{ named(pass)?.says[1] }}:
            <button
              v-for="word in named(pass)?.offered"
              :key="word"
              class="plain chip"
              @click="passes.set(at, { keep: [...kept(pass), word] })">
              {{ word }}
            </button>
          </p>
          <component :is="ownPart(pass)" v-if="ownPart(pass)" :pass="pass" @change="passes.set(at, $event)" />
          <template v-else>
            <SettingField
              v-for="[name, field] in passes.shown(pass)"
              :key="name"
              :field="field"
              :value="(pass as unknown as Record<string, unknown>)[name]"
              @change="passes.set(at, { [name]: $event })" />
            <span v-if="!passes.fields(pass).length" class="soft">Nothing to set.</span>
          </template>
          <LimitSetting :pass="pass" @change="passes.set(at, $event)" />
          <span class="row soft wrap">
            <button class="plain" :disabled="at === 0" @click="move(at, at - 1)">↑ earlier</button>
            <button class="plain" :disabled="at === passes.list.value.length - 1" @click="move(at, at + 1)">
              ↓ later
            </button>
            <button class="plain" @click="passes.remove(at)">remove</button>
            <span>{{ counted(left.get(pass.key ?? '')?.types ?? 0, 'word') }} left</span>
          </span>
        </div>
      </div>
    </li>
    <li class="pass adding">
      <span class="bead" />
      <select class="grow" aria-label="Add a pass" value="" @change="add">
        <option value="" disabled>+ pass</option>
        <option v-for="kind in passes.offered.value" :key="kind.kind" :value="kind.kind" :title="kind.about">
          {{ kind.title }}
        </option>
      </select>
    </li>
  </ol>
</template>

<style scoped>
ol {
  list-style: none;
  margin: 0;
  padding: 0;
}
.pass {
  display: flex;
  gap: 0.8rem;
  padding: 0.42rem 0.4rem 0.42rem 0.6rem;
  border-bottom: 1px solid var(--hairline);
  position: relative;
}
.pass::before {
  content: '';
  position: absolute;
  left: calc(0.6rem + 5px);
  top: 0.3rem;
  bottom: 0.3rem;
  border-left: 2px solid var(--woad);
}
.pass.off::before {
  border-left-style: dotted;
  border-color: var(--soft);
}
.bead {
  flex: none;
  width: 12px;
  height: 12px;
  border-radius: 50%;
  background: var(--woad);
  border: 2px solid var(--woad);
  margin-top: 0.28rem;
  position: relative;
}
.off .bead {
  background: var(--paper);
  border-color: var(--soft);
}
.off b {
  color: var(--soft);
}
.open {
  background: var(--raised);
}
.over {
  box-shadow: inset 0 2px var(--woad);
}
.name {
  width: 100%;
}
.line {
  display: block;
  max-width: 13rem;
}
.warned {
  color: var(--weld);
}
.settings p {
  margin: 0;
}
.settings {
  display: grid;
  gap: 0.35rem;
  padding: 0.4rem 0;
}
.adding .bead {
  background: var(--paper);
}
.adding {
  border-bottom: 0;
}
.adding select {
  font: inherit;
  min-width: 0;
}
</style>
