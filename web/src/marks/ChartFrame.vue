<script setup lang="ts">
import { onBeforeUnmount, onMounted, ref } from 'vue'

import { saveChart, saveTable } from './save'

const props = defineProps<{
  title: string
  note?: string
  name: string
  header: string[]
  rows: (string | number | null)[][]
  /** It has no picture to save. */
  plain?: boolean
}>()
const body = ref<HTMLElement>()
const table = ref(false)

/** Arrow keys move between the marks of the chart. */
function move(event: KeyboardEvent) {
  const step = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[event.key]
  const marks = Array.from(body.value?.querySelectorAll<SVGElement>('[data-mark]') ?? [])
  const at = marks.indexOf(document.activeElement as SVGElement & HTMLElement)
  if (!step || at < 0) return
  event.preventDefault()
  const next = marks[(at + step + marks.length) % marks.length] as unknown as HTMLElement
  marks.forEach((mark) => mark.setAttribute('tabindex', '-1'))
  next.setAttribute('tabindex', '0')
  next.focus()
}
const chart = () => body.value?.querySelector('svg')

/** One of the marks can be reached with the tabulator, however many come and go. */
function open() {
  const marks = Array.from(body.value?.querySelectorAll('[data-mark]') ?? [])
  if (marks.length && !marks.some((mark) => mark.getAttribute('tabindex') === '0'))
    marks[0].setAttribute('tabindex', '0')
}
let observer: MutationObserver | undefined
onMounted(() => {
  open()
  observer = new MutationObserver(open)
  if (body.value) observer.observe(body.value, { childList: true, subtree: true })
})
onBeforeUnmount(() => observer?.disconnect())
</script>

<template>
  <figure>
    <figcaption class="row">
      <h2>{{ title }}</h2>
      <span class="soft small grow">{{ note }}</span>
      <span class="tools small">
        <button class="plain" :aria-pressed="table" @click="table = !table">
          {{ table ? 'chart' : 'table' }}
        </button>
        <button class="plain" @click="saveTable(props.name, header, rows)">CSV</button>
        <button v-if="!table && !plain" class="plain" @click="chart() && saveChart(props.name, chart()!, 'svg')">
          SVG
        </button>
        <button v-if="!table && !plain" class="plain" @click="chart() && saveChart(props.name, chart()!, 'png')">
          PNG
        </button>
      </span>
    </figcaption>
    <div v-if="table" class="twin" tabindex="0" role="group" :aria-label="`Table of ${name}`">
      <table class="numbers">
        <thead>
          <tr>
            <th v-for="cell in header" :key="cell">{{ cell }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(row, at) in rows" :key="at">
            <td v-for="(cell, column) in row" :key="column">
              {{ typeof cell === 'number' ? Number(cell.toPrecision(5)) : cell }}
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <div v-show="!table" ref="body" @keydown="move"><slot /></div>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
  min-width: 0;
}
figcaption {
  align-items: baseline;
  margin-bottom: 0.2rem;
}
.tools {
  display: flex;
  gap: 0.3rem;
}
.tools button {
  min-width: 24px;
  min-height: 24px;
  text-align: center;
  padding: 0 0.2rem;
  color: var(--soft);
}
.tools button:hover {
  color: var(--woad);
  text-decoration: underline;
}
.twin {
  max-height: 24rem;
  overflow: auto;
}
td,
th {
  text-align: left;
  padding: 0.15rem 0.8rem 0.15rem 0;
  border-bottom: 1px solid var(--hairline);
}
</style>
