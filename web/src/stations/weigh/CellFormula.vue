<script setup lang="ts">
import { computed, ref } from 'vue'

import { ask, client } from '@/api/client'
import { strandPath, useStrand, useStrandQuery } from '@/api/strand'
import Waiting from '@/frame/Waiting.vue'
import { useEvidence } from '@/frame/evidence'
import PassageText from '@/marks/PassageText.vue'
import { count, counted } from '@/marks/format'

import { five } from './numbers'
import { useWeighting } from './weighting'

/** One cell: local × global × length with its numbers, and the same under every other weighting. */
const props = defineProps<{ document: number; term: string }>()
const { strand } = useStrand()
const { read } = useEvidence()
const { want, choices } = useWeighting()
const query = useStrandQuery(
  'cell',
  () => [
    props.document,
    props.term,
    strand.value?.wanted.clean,
    strand.value?.wanted.weigh,
    strand.value?.wanted.weighting,
  ],
  (id) =>
    ask(
      client.GET('/api/strands/{strand_id}/matrix/cell', {
        params: { ...strandPath(id), query: { document: props.document, term: props.term } },
      }),
    ),
)
const found = computed(() => query.data.value)
const norm = ref('none')
const table = computed(() => found.value?.tables.find((each) => each.norm === norm.value))
const NAMES = ['local', 'global', 'length']
function take(row: number, column: number) {
  const local = choices.value?.local_weights[row]?.name
  const across = choices.value?.global_weights[column]?.name
  if (local && across)
    want({ local_weight: local, global_weight: across, norm: norm.value } as Parameters<typeof want>[0])
}
</script>

<template>
  <section class="cell" aria-label="The formula of a cell">
    <p v-if="query.error.value" class="notice bad">{{ query.error.value.message }}</p>
    <Waiting v-else-if="!found" what="Putting the numbers in" />
    <template v-else>
      <h2 class="row wrap">
        <span class="book">{{ found.display }}</span> <span class="soft">in</span>
        <button class="plain link" @click="read(found.document)">{{ found.name }}</button>
        <span class="soft small"> {{ found.brief }}</span>
      </h2>
      <dl class="given numbers small">
        <div>
          <dt>tf</dt>
          <dd>{{ count(found.n) }}</dd>
          <dd class="soft">times in this document</dd>
        </div>
        <div>
          <dt>len</dt>
          <dd>{{ count(found.length) }}</dd>
          <dd class="soft">its row, summed</dd>
        </div>
        <div>
          <dt>max tf</dt>
          <dd>{{ count(found.most) }}</dd>
          <dd class="soft">largest in its row</dd>
        </div>
        <div>
          <dt>df</dt>
          <dd>{{ count(found.documents_with) }}</dd>
          <dd class="soft">documents with the term</dd>
        </div>
        <div>
          <dt>N</dt>
          <dd>{{ count(found.of) }}</dd>
          <dd class="soft">
            {{ found.held_out ? `training documents; ${count(found.held_out)} are held out` : 'documents' }}
          </dd>
        </div>
        <div>
          <dt>mean len</dt>
          <dd>{{ five(found.mean_length) }}</dd>
          <dd class="soft">of all {{ count(found.of) }}</dd>
        </div>
      </dl>
      <p class="soft small formula">
        {{ found.weighting }}: <span class="book">{{ found.formula }}</span>
      </p>
      <div class="product">
        <template v-for="(factor, at) in found.factors" :key="at">
          <span v-if="at" class="times">×</span>
          <div class="factor" :title="factor.edge">
            <span class="soft small">{{ NAMES[at] }}: {{ factor.title }}</span>
            <span class="book">{{ factor.formula }}</span>
            <span class="book filled">{{ factor.filled }}</span>
            <b class="numbers">= {{ five(factor.value) }}</b>
          </div>
        </template>
        <span class="times">=</span>
        <div class="factor whole">
          <span class="soft small">weight</span>
          <b class="numbers">{{ five(found.weight) }}</b>
        </div>
      </div>
      <ul class="soft small edges">
        <li v-for="(factor, at) in found.factors.filter((each) => each.edge)" :key="at">
          {{ factor.title }}: {{ factor.edge }}
        </li>
      </ul>
      <p v-if="found.passage.length" class="book passage"><PassageText :pieces="found.passage" /></p>
      <p v-else class="soft small">The term is not in this document: its cell is zero under every weighting.</p>
      <h3>This cell under every other weighting</h3>
      <div class="row wrap small">
        <span role="group" aria-label="Length weight of the table">
          <button
            v-for="each in found.tables"
            :key="each.norm"
            class="plain mode"
            :aria-pressed="norm === each.norm"
            @click="norm = each.norm">
            {{ each.norm === 'none' ? 'length as it is' : each.title }}
          </button>
        </span>
        <span class="soft">rows local, columns global; choose one to weigh by it</span>
      </div>
      <div class="over">
        <table class="ledger small every">
          <thead>
            <tr>
              <th />
              <th v-for="each in found.columns" :key="each" class="numbers">{{ each }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(row, at) in table?.weights ?? []" :key="at">
              <th>{{ found.rows[at] }}</th>
              <td v-for="(value, column) in row" :key="column" class="numbers">
                <button
                  class="plain"
                  :class="{
                    here:
                      found.factors[0].title === found.rows[at] &&
                      found.factors[1].title === found.columns[column] &&
                      found.factors[2].title === table?.title,
                  }"
                  :title="`Weigh by ${found.rows[at]} × ${found.columns[column]}`"
                  @click="take(at, column)">
                  {{ five(value) }}
                </button>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <p class="small soft">
        Usual ones:
        <span v-for="each in found.schemes" :key="each.name" class="usual" :title="each.formula"
          >{{ each.name }} <b class="numbers">{{ five(each.weight) }}</b></span
        >. {{ counted(found.of, 'document') }} were learnt from.
      </p>
    </template>
  </section>
</template>

<style scoped>
.cell {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 0.6rem;
  min-width: 0;
}
.cell p {
  margin: 0;
}
.given {
  display: flex;
  flex-wrap: wrap;
  gap: 0.3rem 1.6rem;
  margin: 0;
}
.given div {
  display: grid;
}
dt {
  font-family: var(--book);
}
dd {
  margin: 0;
}
dt + dd {
  font-family: var(--heading);
  font-size: 1.2rem;
}
.product {
  display: flex;
  flex-wrap: wrap;
  align-items: stretch;
  gap: 0.5rem 0.8rem;
}
.factor {
  display: grid;
  align-content: start;
  gap: 0.1rem;
  border-top: 3px solid var(--woad);
  padding-top: 0.3rem;
}
.factor b {
  font-size: 1.1rem;
}
.filled {
  color: var(--woad);
}
.whole {
  border-color: var(--weld);
}
.whole b {
  font-family: var(--heading);
  font-size: 1.7rem;
}
.times {
  align-self: center;
  font-size: 1.3rem;
  color: var(--soft);
}
.edges {
  margin: 0;
  padding-left: 1.1rem;
}
.passage {
  max-width: 46rem;
}
.over {
  overflow-x: auto;
}
.every th {
  white-space: nowrap;
}
.every tbody th {
  border-top: 1px solid var(--hairline);
}
.here {
  background: var(--weld-wash);
  font-weight: 700;
}
.usual + .usual::before {
  content: ' · ';
}
</style>
