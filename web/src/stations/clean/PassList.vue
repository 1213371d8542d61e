<script setup lang="ts">
import { computed, nextTick, ref } from 'vue'

import type { Schemas } from '@/api/client'
import { useWanted } from '@/api/strand'
import { passName, passTitle } from '@/frame/plies'
import { count, counted } from '@/marks/format'

import WordListEditor from './WordListEditor.vue'

type Pass = NonNullable<Schemas['CleanSettings']['passes']>[number]
const props = defineProps<{ survivals: Schemas['PassSurvival'][] }>()
const { wanted, change } = useWanted()
const open = ref('')
const dragged = ref(-1)
const over = ref(-1)
const list = ref<HTMLElement>()
const passes = computed(() => (wanted.value?.clean?.passes ?? []) as Pass[])
const removed = computed(() => new Map(props.survivals.map((row) => [row.kind, row])))

function setPasses(next: Pass[]) {
  const clean = wanted.value?.clean
  if (clean) change({ clean: { ...clean, passes: next } })
}
const set = (at: number, part: Partial<Pass>) =>
  setPasses(passes.value.map((each, index) => (index === at ? ({ ...each, ...part } as Pass) : each)))
function move(from: number, to: number) {
  if (to < 0 || to >= passes.value.length || from === to) return
  const next = [...passes.value]
  next.splice(to, 0, ...next.splice(from, 1))
  setPasses(next)
  nextTick(() => (list.value?.querySelectorAll('button.name')[to] as HTMLElement | undefined)?.focus())
}
function drop(to: number) {
  if (dragged.value >= 0) move(dragged.value, to)
  dragged.value = over.value = -1
}
function setRule(part: object) {
  const clean = wanted.value?.clean
  if (clean) change({ clean: { ...clean, rule: { ...clean.rule, ...part } as typeof clean.rule } })
}
const rule = computed(() => wanted.value?.clean?.rule)

function summary(pass: Pass): string {
  switch (pass.kind) {
    case 'markup':
      return 'tags go, entities are decoded'
    case 'addresses':
      return pass.hashtags ? 'web, mail, mentions, hashtags' : 'web, mail, mentions'
    case 'case':
      return pass.possessives ? 'fold; cut off ’s' : 'fold'
    case 'numbers':
      return pass.keep_with_letters ? 'drop; keep 12kn' : 'drop'
    case 'punctuation':
      return 'drop'
    case 'stop-words':
      return [
        pass.language === 'english' ? 'English list' : 'no list',
        pass.own?.length ? `${pass.own.length} own` : '',
      ]
        .filter(Boolean)
        .join(' + ')
    case 'short-words':
      return `under ${pass.under} letters`
    case 'word-forms':
      return 'stems (Porter)'
    case 'domain-words':
      return pass.words?.length
        ? pass.words.slice(0, 4).join(', ') + (pass.words.length > 4 ? ', …' : '')
        : 'none yet; press x on a term'
  }
}
const afterForms = (at: number) => passes.value.findIndex((each) => each.kind === 'word-forms') < at
const number = (event: Event) => Number((event.target as HTMLInputElement).value)
const checked = (event: Event) => (event.target as HTMLInputElement).checked
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
          }}{{ rule?.hyphens === 'split' ? ', hyphens split' : '' }}</span
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
            ><input
              type="checkbox"
              :checked="rule?.hyphens === 'split'"
              @change="setRule({ hyphens: checked($event) ? 'split' : 'keep' })" />
            split hyphenated words</label
          >
        </div>
      </div>
    </li>
    <li
      v-for="(pass, at) in passes"
      :key="pass.kind"
      class="pass"
      :class="{ off: !pass.on, over: over === at, open: open === pass.kind }"
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
        :aria-label="`${passName(pass.kind)} ${pass.on ? 'on' : 'off'}`"
        @click="set(at, { on: !pass.on })" />
      <div class="grow">
        <button
          class="plain name row spread"
          :aria-expanded="open === pass.kind"
          @click="open = open === pass.kind ? '' : pass.kind">
          <b>{{ passTitle(pass.kind) }}</b>
          <span v-if="!pass.on" class="soft small">off</span>
          <span v-else-if="removed.get(pass.kind)?.removed" class="loss small numbers"
            >−{{ count(removed.get(pass.kind)?.removed ?? 0) }}</span
          >
        </button>
        <span class="soft small cut line">{{ summary(pass) }}</span>
        <div v-if="open === pass.kind" class="settings small">
          <label v-if="pass.kind === 'addresses'"
            ><input type="checkbox" :checked="pass.hashtags" @change="set(at, { hashtags: checked($event) })" />
            hashtags too</label
          >
          <label v-else-if="pass.kind === 'case'"
            ><input type="checkbox" :checked="pass.possessives" @change="set(at, { possessives: checked($event) })" />
            cut off a possessive ’s</label
          >
          <label v-else-if="pass.kind === 'numbers'"
            ><input
              type="checkbox"
              :checked="pass.keep_with_letters"
              @change="set(at, { keep_with_letters: checked($event) })" />
            keep those joined to letters</label
          >
          <label v-else-if="pass.kind === 'short-words'"
            >under
            <input type="number" min="2" max="20" :value="pass.under" @change="set(at, { under: number($event) })" />
            letters</label
          >
          <template v-else-if="pass.kind === 'stop-words'">
            <label
              ><input
                type="checkbox"
                :checked="pass.language === 'english'"
                @change="set(at, { language: checked($event) ? 'english' : 'none' })" />
              the English list</label
            >
            <p v-if="afterForms(at)" class="soft">Stands after the stems, so the list is stemmed as well.</p>
            <WordListEditor label="Own words" :words="pass.own ?? []" @change="set(at, { own: $event })" />
            <WordListEditor
              label="Words of the list to keep"
              :words="pass.keep ?? []"
              @change="set(at, { keep: $event })" />
          </template>
          <WordListEditor
            v-else-if="pass.kind === 'domain-words'"
            label="Words to leave out"
            :words="pass.words ?? []"
            @change="set(at, { words: $event })" />
          <span v-else class="soft">Nothing to set.</span>
          <span class="row soft">
            <button class="plain" :disabled="at === 0" @click="move(at, at - 1)">↑ earlier</button>
            <button class="plain" :disabled="at === passes.length - 1" @click="move(at, at + 1)">↓ later</button>
            <span>{{ counted(removed.get(pass.kind)?.types ?? 0, 'word') }} left</span>
          </span>
        </div>
      </div>
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
.settings {
  display: grid;
  gap: 0.35rem;
  padding: 0.4rem 0;
}
input[type='number'] {
  width: 3.5rem;
}
</style>
