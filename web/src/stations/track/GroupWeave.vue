<script setup lang="ts">
import { line } from 'd3-shape'
import { computed } from 'vue'

import type { MovementTable } from '@/api/prevalence'
import { useTopics } from '@/api/topics'
import { useAddress } from '@/frame/address'
import { useEvidence } from '@/frame/evidence'
import Swatch from '@/marks/Swatch.vue'
import { colour } from '@/marks/dyes'
import { count, percent } from '@/marks/format'

import { chance, points } from './prevalence'

/** Groups by topics: in each cell the share, how it goes over time, and a sign where it surely differs or moves. */
const props = defineProps<{ found: MovementTable; timed: boolean; order: number[] }>()
const { label, dye } = useTopics()
const { select, isSelected } = useEvidence()
const { set } = useAddress()
const WIDE = 70
const HIGH = 22
type Row = MovementTable['groups'][number]
const request = (row: Row, topic: number) => ({ topic, field: props.found.group ?? '', value: row.group })
const top = computed(() =>
  Object.fromEntries(
    props.order.map((topic) => [
      topic,
      Math.max(0.01, ...props.found.groups.flatMap((row) => row.lines[topic]?.map((each) => each ?? 0) ?? [])),
    ]),
  ),
)
function path(row: Row, topic: number) {
  const given = row.lines[topic] ?? []
  return (
    line<number | null>()
      .defined((share) => share !== null)
      .x((_, at) => 1 + ((at + 0.5) / given.length) * (WIDE - 2))
      .y((share) => HIGH - 2 - (HIGH - 4) * ((share ?? 0) / top.value[topic]))(given) ?? ''
  )
}
function said(row: Row, topic: number) {
  const each = row.each[topic]
  const within = row.within[topic]
  const parts = [`${label(topic)}, ${row.group}: ${percent(row.shares[topic].mean)}`]
  if (each)
    parts.push(`${points(each.contrast.difference)} points against the others, ${chance(each.contrast.adjusted)}`)
  if (within) parts.push(`over time ${within.sentence}, ${chance(within.contrast.adjusted)}`)
  return parts.join('; ')
}
</script>

<template>
  <div class="weave">
    <table class="numbers">
      <thead>
        <tr>
          <th scope="col">topic</th>
          <th v-for="row in found.groups" :key="row.group" scope="col">
            <button
              class="plain cut"
              :title="`${row.group} against all others`"
              @click="set({ part: 'two', av: row.group, a: '', bv: '', b: '' }, true)">
              {{ row.group }}</button><small class="soft">n {{ count(row.documents) }}</small>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="topic in order" :key="topic">
          <th scope="row">
            <button class="plain name" @click="set({ part: timed ? 'time' : 'groups', t: [String(topic)] }, true)">
              <Swatch :dye="dye(topic)" :size="14" /><span class="label" :title="label(topic)">{{ label(topic) }}</span>
            </button>
          </th>
          <td v-for="row in found.groups" :key="row.group">
            <button
              class="plain cell"
              :class="{
                more: row.each[topic]?.sure && row.each[topic]!.contrast.difference > 0,
                less: row.each[topic]?.sure && row.each[topic]!.contrast.difference < 0,
                selected: isSelected(request(row, topic)),
              }"
              :title="said(row, topic)"
              :aria-label="said(row, topic)"
              @click="select(request(row, topic))">
              <span class="share">
                <b v-if="row.each[topic]?.sure">{{ row.each[topic]!.contrast.difference > 0 ? '+' : '−' }}</b>
                {{ (100 * row.shares[topic].mean).toFixed(1) }}
              </span>
              <svg v-if="timed" :width="WIDE" :height="HIGH" aria-hidden="true">
                <path
                  :d="path(row, topic)"
                  :style="{ stroke: colour(dye(topic)) }"
                  :class="{ strong: row.within[topic]?.sure }" />
              </svg>
              <i v-if="row.within[topic]?.sure" class="moves">{{ row.within[topic]!.kind }}</i>
            </button>
          </td>
        </tr>
      </tbody>
    </table>
    <p class="soft small">
      Percent of {{ found.group ? `each ${found.group}` : '' }}. + and −: surely more or less than in the others, of
      topics that surely differ at all.
      <template v-if="found.all_groups > found.groups.length"
        >The {{ found.groups.length }} largest of {{ count(found.all_groups) }}.
      </template>
      <template v-if="timed"
        >A word and a heavy line: it surely moves within that group, adjusted likewise. Lines of one topic have one
        scale.</template
      >
    </p>
  </div>
</template>

<style scoped>
.weave {
  overflow-x: auto;
}
th,
td {
  border-bottom: 1px solid var(--hairline);
  padding: 0.1rem 0.35rem 0.1rem 0;
  text-align: left;
  vertical-align: middle;
  font-weight: 400;
}
thead th {
  max-width: 7rem;
  font-weight: 650;
}
thead small {
  display: block;
  font-weight: 400;
}
.cut {
  display: block;
  max-width: 12rem;
}
.name {
  display: grid;
  grid-template-columns: max-content minmax(0, 1fr);
  gap: 0.5rem;
  align-items: center;
  min-height: 24px;
}
.label {
  line-height: 1.15;
  overflow: hidden;
  display: -webkit-box;
  -webkit-line-clamp: 2;
  -webkit-box-orient: vertical;
}
tbody th {
  min-width: 8rem;
}
.cell {
  display: grid;
  grid-template-columns: 3.2rem max-content;
  align-items: center;
  padding: 0.1rem 0.3rem;
  min-height: 24px;
}
.cell:hover,
.selected {
  background: var(--woad-wash);
}
.more {
  border-left: 4px solid var(--lichen);
}
.less {
  border-left: 4px solid var(--weld);
}
.share {
  white-space: nowrap;
  text-align: right;
  padding-right: 0.4rem;
}
.moves {
  grid-column: 2;
  line-height: 1;
  font-style: normal;
  font-size: 0.8rem;
  color: var(--ink);
}
path {
  fill: none;
  stroke-width: 1.3;
}
path.strong {
  stroke-width: 2.6;
}
</style>
