<script setup lang="ts">
import { computed, nextTick, ref, shallowRef, watch } from 'vue'

import { ask, client, type Problem, type Schemas } from '@/api/client'
import { oneAtATime } from '@/api/newest'
import { strandPath, useStrand } from '@/api/strand'
import { useAddress } from '@/frame/address'
import { useEvidence } from '@/frame/evidence'
import { count, percent } from '@/marks/format'

import { readCell, useOpenCell } from './cells'
import { brief, five } from './numbers'
import { useScope } from './scope'
import { inView, scrolledTo } from './window'

/** Documents by terms, as much of it as is in view. */
const { id, strand } = useStrand()
const { get, set } = useAddress()
const { scope, choices } = useScope()
const { select, read } = useEvidence()
const open = useOpenCell()
const HIGH = 25
const WIDE = 66
const NAMES = 210
const SUMS = 70
const HEAD = 74
type Order = 'weight' | 'number' | 'date' | 'group'
const rowsBy = computed(() => get('rows', 'weight') as Order)
const columnsBy = computed(() => get('columns', 'weight') as 'weight' | 'count' | 'documents' | 'term')
const group = computed(() => get('rowgroup') || choices.value?.fields[0]?.field)
const found = shallowRef<Schemas['Grid']>()
const asked = shallowRef({ row: 0, column: 0 })
const fault = ref('')
const active = ref({ row: 0, column: 0 })
const scroller = ref<HTMLElement>()
const place = ref({ top: 0, left: 0, width: 800, height: 420 })

/** Ask for what is in view. */
const load = oneAtATime(async () => {
  if (!id.value) return
  const { top, left, width, height } = place.value
  const rows = inView(top, height, HIGH, found.value?.total_rows ?? 1e9)
  const columns = inView(left, width, WIDE, found.value?.total_columns ?? 1e9, 3)
  const query = {
    ...scope.value,
    rows_by: rowsBy.value,
    columns_by: columnsBy.value,
    group: rowsBy.value === 'group' ? group.value : undefined,
    first_row: rows.first,
    n_rows: Math.max(1, rows.count),
    first_column: columns.first,
    n_columns: Math.max(1, columns.count),
  }
  await ask(client.GET('/api/strands/{strand_id}/matrix/grid', { params: { ...strandPath(id.value), query } }))
    .then((answer) => {
      asked.value = { row: rows.first, column: columns.first }
      found.value = answer
      fault.value = ''
    })
    .catch((problem: Problem) => (fault.value = problem.message))
})
function scrolled() {
  const box = scroller.value
  if (!box) return
  place.value = {
    top: box.scrollTop,
    left: box.scrollLeft,
    width: box.clientWidth - NAMES - SUMS,
    height: box.clientHeight - HEAD,
  }
  load()
}
watch(
  () => [id.value, scope.value, rowsBy.value, columnsBy.value, group.value, strand.value?.wanted],
  () => {
    found.value = undefined
    active.value = { row: 0, column: 0 }
    if (scroller.value) scroller.value.scrollTo(0, 0)
    nextTick(scrolled)
  },
  { immediate: true, deep: true },
)

const chosen = computed(() => readCell(get('cell')))
const rows = computed(() =>
  (found.value?.rows ?? []).map((row, at) => ({ ...row, at: asked.value.row + at, cells: found.value!.cells[at] })),
)
const columns = computed(() =>
  (found.value?.columns ?? []).map((column, at) => ({ ...column, at: asked.value.column + at })),
)
const thread = (value: number) =>
  `${Math.round(100 * Math.sqrt(Math.abs(value) / Math.max(found.value?.largest ?? 1, 1e-12)))}%`
function pick(row: (typeof rows.value)[number], column: (typeof columns.value)[number]) {
  active.value = { row: row.at, column: column.at }
  open({ document: row.document, term: column.term }, !row.cells[column.at - asked.value.column])
}
const isChosen = (document: number, term: string) => chosen.value?.document === document && chosen.value.term === term

/** The cell that the tabulator reaches: the one that was last, or the first in view. */
const reached = computed(() => {
  const { row, column } = active.value
  const seen = rows.value.some((each) => each.at === row) && columns.value.some((each) => each.at === column)
  return seen ? active.value : { row: rows.value[0]?.at, column: columns.value[0]?.at }
})
async function goTo(row: number, column: number) {
  const total = found.value
  const box = scroller.value
  if (!total || !box) return
  active.value = {
    row: Math.max(0, Math.min(total.total_rows - 1, row)),
    column: Math.max(0, Math.min(total.total_columns - 1, column)),
  }
  box.scrollTop = scrolledTo(active.value.row, HIGH, box.scrollTop, place.value.height)
  box.scrollLeft = scrolledTo(active.value.column, WIDE, box.scrollLeft, place.value.width)
  scrolled()
  for (let wait = 0; wait < 40; wait++) {
    await nextTick()
    const cell = box.querySelector<HTMLElement>(`[data-cell="${active.value.row} ${active.value.column}"]`)
    if (cell) return cell.focus({ preventScroll: true })
    await new Promise((done) => setTimeout(done, 25))
  }
}
function press(event: KeyboardEvent) {
  const { row, column } = active.value
  const page = Math.max(1, Math.floor(place.value.height / HIGH) - 1)
  const last = found.value?.total_columns ?? 1
  const moves: Record<string, [number, number]> = {
    ArrowDown: [row + 1, column],
    ArrowUp: [row - 1, column],
    ArrowRight: [row, column + 1],
    ArrowLeft: [row, column - 1],
    PageDown: [row + page, column],
    PageUp: [row - page, column],
    Home: [event.ctrlKey ? 0 : row, 0],
    End: [event.ctrlKey ? 1e9 : row, last - 1],
  }
  const to = moves[event.key]
  if (!to) return
  event.preventDefault()
  event.stopPropagation()
  goTo(...to)
}
const optionOf = (event: Event) => (event.target as HTMLSelectElement).value
const cells = computed(() => (found.value ? found.value.total_rows * found.value.total_columns : 0))
</script>

<template>
  <section aria-label="A corner of the matrix">
    <div class="row wrap small">
      <label
        >documents by
        <select :value="rowsBy" aria-label="Documents by" @change="set({ rows: optionOf($event) })">
          <option value="weight">falling weight</option>
          <option value="number">their number</option>
          <option value="date">date</option>
          <option v-if="choices?.fields.length" value="group">group</option>
        </select></label
      >
      <select
        v-if="rowsBy === 'group'"
        :value="group"
        aria-label="Field that documents are ordered by"
        @change="set({ rowgroup: optionOf($event) })">
        <option v-for="each in choices?.fields ?? []" :key="each.field">{{ each.field }}</option>
      </select>
      <label
        >terms by
        <select :value="columnsBy" aria-label="Terms by" @change="set({ columns: optionOf($event) })">
          <option value="weight">falling weight</option>
          <option value="count">count</option>
          <option value="documents">documents</option>
          <option value="term">the alphabet</option>
        </select></label
      >
      <slot />
      <span v-if="found" class="soft"
        >{{ count(found.total_rows) }} × {{ count(found.total_columns) }} = {{ count(cells) }} cells,
        {{ percent(cells ? Math.max(0, 1 - found.nonzero / Math.max(cells, found.nonzero)) : 1) }} of them zero</span
      >
    </div>
    <p v-if="fault" class="notice bad">{{ fault }}</p>
    <div
      ref="scroller"
      class="sheet-of-cells"
      role="grid"
      aria-label="Documents by terms"
      :aria-rowcount="(found?.total_rows ?? 0) + 1"
      :aria-colcount="(found?.total_columns ?? 0) + 2"
      @scroll="scrolled"
      @keydown="press">
      <div
        v-if="found"
        class="room"
        role="rowgroup"
        :style="{
          width: `${NAMES + SUMS + found.total_columns * WIDE}px`,
          height: `${HEAD + found.total_rows * HIGH}px`,
        }">
        <div
          class="head"
          role="row"
          aria-rowindex="1"
          :style="{ height: `${HEAD}px`, width: `${NAMES + SUMS + found.total_columns * WIDE}px` }">
          <div class="corner" role="columnheader" :style="{ width: `${NAMES}px` }">document</div>
          <div class="corner sums" role="columnheader" :style="{ width: `${SUMS}px`, left: `${NAMES}px` }">sum</div>
          <div
            v-for="column in columns"
            :key="column.term"
            role="columnheader"
            class="term"
            :aria-colindex="column.at + 3"
            :style="{ left: `${NAMES + SUMS + column.at * WIDE}px`, width: `${WIDE}px` }">
            <button
              class="plain book"
              tabindex="-1"
              :title="`${column.display}: ${five(column.sum)} in all`"
              @click="select({ term: column.term })">
              {{ column.display }}
            </button>
            <small class="numbers soft">{{ brief(column.sum) }}</small>
          </div>
        </div>
        <div
          v-for="row in rows"
          :key="row.document"
          role="row"
          class="line"
          :aria-rowindex="row.at + 2"
          :style="{ top: `${HEAD + row.at * HIGH}px`, height: `${HIGH}px` }">
          <div role="rowheader" class="name" :style="{ width: `${NAMES}px` }">
            <button class="plain cut" tabindex="-1" :title="`Read ${row.name}`" @click="read(row.document)">
              {{ row.name }}
            </button>
            <small v-if="row.detail" class="soft cut">{{ row.detail }}</small>
            <small v-if="row.held_out" class="soft" title="held out for the test">test</small>
          </div>
          <div role="gridcell" class="sum numbers" :style="{ width: `${SUMS}px`, left: `${NAMES}px` }">
            {{ brief(row.sum) }}
          </div>
          <button
            v-for="column in columns"
            :key="column.term"
            role="gridcell"
            class="plain value numbers"
            :class="{ zero: !row.cells[column.at - asked.column], chosen: isChosen(row.document, column.term) }"
            :aria-colindex="column.at + 3"
            :data-cell="`${row.at} ${column.at}`"
            :tabindex="reached.row === row.at && reached.column === column.at ? 0 : -1"
            @focus="active = { row: row.at, column: column.at }"
            :style="{ left: `${NAMES + SUMS + column.at * WIDE}px`, width: `${WIDE}px` }"
            :aria-label="`${column.display} in ${row.name}: ${five(row.cells[column.at - asked.column] ?? 0)}`"
            @click="pick(row, column)">
            <template v-if="row.cells[column.at - asked.column]">
              {{ brief(row.cells[column.at - asked.column]) }}
              <i :style="{ width: thread(row.cells[column.at - asked.column]) }" />
            </template>
            <template v-else>·</template>
          </button>
        </div>
      </div>
      <p v-else class="soft small waiting" role="status">Weighing the cells in view …</p>
    </div>
  </section>
</template>

<style scoped>
section {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 0.5rem;
  min-width: 0;
}
.row {
  gap: 0.3rem 1rem;
}
.sheet-of-cells {
  position: relative;
  height: max(20rem, calc(100vh - 25rem));
  overflow: auto;
  border: 1px solid var(--hairline);
  background: var(--raised);
}
.room {
  position: relative;
}
.head {
  position: sticky;
  top: 0;
  z-index: 3;
  background: var(--raised);
  border-bottom: 1px solid var(--soft);
}
.corner {
  position: sticky;
  left: 0;
  display: inline-flex;
  align-items: end;
  height: 100%;
  padding: 0.3rem 0.5rem;
  background: var(--raised);
  font-weight: 700;
  z-index: 1;
}
.corner.sums {
  justify-content: end;
  border-right: 1px solid var(--soft);
}
.term {
  position: absolute;
  top: 0;
  bottom: 0;
  display: flex;
  flex-direction: column;
  align-items: end;
  justify-content: end;
  padding: 0 0.4rem 0.2rem 0;
}
.term button {
  writing-mode: vertical-rl;
  transform: rotate(180deg);
  max-height: 52px;
  min-width: 24px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  font-size: 0.9rem;
}
.line {
  position: absolute;
  left: 0;
  width: 100%;
  border-bottom: 1px solid var(--hairline);
}
.name,
.sum {
  position: sticky;
  left: 0;
  z-index: 2;
  display: inline-flex;
  align-items: center;
  gap: 0.4rem;
  height: 100%;
  padding: 0 0.5rem;
  background: var(--raised);
  vertical-align: top;
}
.name button {
  flex: 1;
  min-width: 0;
  line-height: 24px;
}
.name small {
  max-width: 6rem;
}
.sum {
  justify-content: end;
  border-right: 1px solid var(--soft);
  font-weight: 700;
}
.value {
  position: absolute;
  top: 0;
  bottom: 0;
  padding-right: 0.4rem;
  text-align: right;
  line-height: 23px;
}
.value i {
  position: absolute;
  right: 0.4rem;
  bottom: 2px;
  max-width: calc(100% - 0.8rem);
  height: 2.5px;
  border-radius: 2px;
  background: var(--woad);
}
.zero {
  color: var(--soft);
}
.value:hover,
.value:focus-visible {
  background: var(--woad-wash);
}
.value:focus-visible {
  outline-offset: -2px;
}
.chosen {
  background: var(--weld-wash);
  box-shadow: inset 0 0 0 1.5px var(--weld);
}
.waiting {
  padding: 1rem;
}
</style>
