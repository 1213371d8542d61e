<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink, useRoute } from 'vue-router'

import type { Strand } from '@/api/client'

import { hasStopped, isAtWork, jobs } from './jobs'
import { useStations } from './station'

const props = defineProps<{ strand?: Strand }>()
const route = useRoute()
const stations = useStations()

type Knot = 'empty' | 'ready' | 'working' | 'stale' | 'failed'
const SAID: Record<Knot, string> = {
  empty: 'nothing yet',
  ready: 'ready',
  working: 'at work',
  stale: 'out of date',
  failed: 'failed',
}

const knots = computed(() =>
  stations.map((station) => {
    const mine = jobs.value.filter((job) => job.strand === props.strand?.id && station.jobs?.includes(job.kind))
    const steps = [station.step, ...(station.rooms ?? []).map((room) => room.step)]
    const found = [...(props.strand?.plies ?? []), ...(props.strand?.beside ?? [])]
      .filter((each) => steps.includes(each.step))
      .map((each) => each.state)
    let state: Knot = (['stale', 'ready'] as const).find((each) => found.includes(each)) ?? 'empty'
    if (state === 'empty' && station.alone && mine.some((job) => job.state === 'done')) state = 'ready'
    if (mine.some(isAtWork)) state = 'working'
    else if (state === 'empty' && mine[0] && hasStopped(mine[0])) state = 'failed'
    return { ...station, state }
  }),
)
const GAP = 74
const lastReady = computed(() => knots.value.findLastIndex((knot) => knot.state !== 'empty'))
const wave = (from: number, to: number) => {
  let path = `M42 ${from}`
  for (let y = from; y < to; y += GAP / 2) path += `q${(y / (GAP / 2)) % 2 < 1 ? 6 : -6} ${GAP / 4} 0 ${GAP / 2}`
  return path
}
const height = computed(() => GAP * knots.value.length)
const solid = computed(() => Math.max(0, lastReady.value) * GAP + GAP / 2)
</script>

<template>
  <nav class="rail" aria-label="Stations">
    <RouterLink to="/" class="home" aria-label="skein: all of them">skein</RouterLink>
    <div class="thread">
      <svg width="84" :height="height + 30" aria-hidden="true">
        <path v-if="strand" :d="wave(0, solid)" class="line" />
        <path :d="wave(strand ? solid : 0, height)" class="line dashed" />
      </svg>
      <RouterLink
        v-for="(knot, at) in knots"
        :key="knot.name"
        :to="strand ? `/strand/${strand.id}/${knot.name}` : '/'"
        class="knot"
        :class="[knot.state, { here: route.name === knot.name || (!strand && at === 0) }]"
        :style="{ top: `${at * GAP + 8}px` }"
        :aria-label="`${knot.label} ${knot.number}, ${SAID[knot.state]}`"
        :aria-current="route.name === knot.name ? 'page' : undefined"
        @pointerenter="knot.view"
        @focus="knot.view">
        <svg width="34" height="34" viewBox="-17 -17 34 34" aria-hidden="true">
          <circle v-if="route.name === knot.name" r="14" class="ring" />
          <circle r="8" class="bead" />
          <path v-if="knot.state === 'stale'" class="fray" d="M-9 -4 9 -4M-9 4 9 4M-5 -9V9M5 -9V9" />
          <path v-if="knot.state === 'working'" class="moving" d="M-6 0Q-3 -4 0 0T6 0" />
          <path v-if="knot.state === 'failed'" class="cross" d="M-5 -5 5 5M5 -5 -5 5" />
        </svg>
        <span
          >{{ knot.label }} <small>{{ knot.number }}</small></span
        >
      </RouterLink>
    </div>
  </nav>
</template>

<style scoped>
.rail {
  grid-area: rail;
  background: var(--sunk);
  border-right: 1px solid var(--hairline);
  overflow-y: auto;
  overflow-x: hidden;
}
@media (max-width: 900px) {
  .rail {
    position: sticky;
    top: 0;
    height: 100vh;
  }
}
.home {
  display: block;
  text-align: center;
  font-family: var(--heading);
  font-weight: 700;
  font-size: 1.15rem;
  color: var(--ink);
  text-decoration: none;
  padding: 0.6rem 0 0.4rem;
}
.thread {
  position: relative;
}
.line {
  fill: none;
  stroke: var(--woad);
  stroke-width: 2.2;
}
.line.dashed {
  stroke-dasharray: 3 6;
  opacity: 0.6;
}
.knot {
  position: absolute;
  left: 0;
  width: 84px;
  display: grid;
  justify-items: center;
  color: var(--ink);
  text-decoration: none;
  font-size: 0.92rem;
}
.knot span {
  background: var(--sunk);
  padding: 0 0.3rem;
  margin-top: -2px;
}
.knot small {
  color: var(--soft);
}
.here span {
  font-weight: 700;
}
.bead {
  fill: var(--woad);
  stroke: var(--woad);
  stroke-width: 2;
}
.empty .bead {
  fill: var(--sunk);
  stroke: var(--soft);
}
.stale .bead {
  fill: var(--weld);
  stroke: var(--weld);
}
.fray {
  stroke: var(--sunk);
  stroke-width: 1.6;
}
.failed .bead {
  fill: var(--sunk);
  stroke: var(--madder);
}
.cross {
  stroke: var(--madder);
  stroke-width: 2.4;
}
.ring {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.5;
}
.moving {
  fill: none;
  stroke: var(--raised);
  stroke-width: 2;
  stroke-dasharray: 4 3;
  animation: run 0.8s linear infinite;
}
@keyframes run {
  to {
    stroke-dashoffset: -14;
  }
}
</style>
