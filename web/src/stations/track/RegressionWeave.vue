<script setup lang="ts">
import type { RegressionTable } from '@/api/regression'
import { useTopics } from '@/api/topics'
import { stepRow } from '@/frame/rows'
import Swatch from '@/marks/Swatch.vue'
import { percent } from '@/marks/format'

import { chance } from './prevalence'

/** Every topic on a thread, with a knot where an effect is surely there. */
defineProps<{ found: RegressionTable; topic: number }>()
const emit = defineEmits<{ pick: [number] }>()
const { label, dye } = useTopics()
const said = (p: number | null, name: string) => (p === null ? `${name}: can’t be told` : `${name}: ${chance(p)}`)
</script>

<template>
  <div class="weave" @keydown.down="stepRow($event, 'button.line', 1)" @keydown.up="stepRow($event, 'button.line', -1)">
    <div class="line head small soft">
      <span>topic</span>
      <span v-for="each in found.effects" :key="each.terms.join()" class="name" :title="each.terms.join(' × ')">{{
        each.terms.join(' × ')
      }}</span>
      <span class="name">told</span>
    </div>
    <button
      v-for="each in found.topics"
      :key="each.topic"
      class="plain line"
      :class="{ selected: each.topic === topic }"
      :aria-pressed="each.topic === topic"
      @click="emit('pick', each.topic)">
      <span class="row name-of"
        ><Swatch :dye="dye(each.topic)" /><span class="cut">{{ label(each.topic) }}</span></span
      >
      <span
        v-for="(effect, at) in each.effects"
        :key="at"
        class="thread"
        :title="said(effect.adjusted, found.effects[at].terms.join(' × '))">
        <svg width="22" height="16" role="img" :aria-label="said(effect.adjusted, found.effects[at].terms.join(' × '))">
          <line x1="0" x2="22" y1="8" y2="8" class="strand" />
          <circle
            v-if="effect.adjusted !== null"
            cx="11"
            cy="8"
            :r="effect.sure ? 5 : 2.5"
            :class="{ sure: effect.sure }" />
        </svg>
      </span>
      <span class="numbers small">{{ percent(each.explained, 0) }}</span>
    </button>
  </div>
</template>

<style scoped>
.weave {
  max-height: 36rem;
  overflow-y: auto;
}
.line {
  display: grid;
  grid-template-columns: minmax(0, 1fr) repeat(v-bind('found.effects.length'), 1.5rem) 2.4rem;
  gap: 0.15rem;
  align-items: center;
  width: 100%;
  text-align: left;
  min-height: 26px;
  padding: 0 0.3rem;
}
.head {
  align-items: end;
  position: sticky;
  top: 0;
  background: var(--paper);
}
.name {
  writing-mode: vertical-rl;
  transform: rotate(180deg);
  max-height: 8rem;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  justify-self: center;
}
.name-of {
  flex-wrap: nowrap;
  gap: 0.4rem;
  min-width: 0;
}
.selected {
  background: var(--weld-wash);
}
.strand {
  stroke: var(--hairline);
  stroke-width: 1.5;
}
circle {
  fill: var(--paper);
  stroke: var(--soft);
}
circle.sure {
  fill: var(--woad);
  stroke: var(--woad);
}
.numbers {
  text-align: right;
}
</style>
