<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'

import type { Schemas } from '@/api/client'
import { useAddress } from '@/frame/address'
import { useEvidence } from '@/frame/evidence'
import { useLanguageStrands } from '@/frame/languages'
import { count, counted, percent } from '@/marks/format'

const props = defineProps<{ overview: Schemas['Overview'] }>()
const { set } = useAddress()
const { read } = useEvidence()
const split = useLanguageStrands()
const made = computed(() => split.data.value)
const share = (filled: number) => percent(filled / Math.max(props.overview.documents, 1), 0)
const files = computed(() => {
  const names = props.overview.files
  return names.length > 4 ? `${names.slice(0, 3).join(', ')} and ${count(names.length - 3)} more` : names.join(', ')
})
</script>

<template>
  <div class="two">
    <section>
      <h2>Fields</h2>
      <p class="soft small">kept beside the text, all the way to the results</p>
      <table>
        <thead>
          <tr>
            <th>field</th>
            <th>role</th>
            <th>holds</th>
            <th class="numbers">given in</th>
            <th class="numbers">distinct</th>
            <th>such as</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="field in overview.fields" :key="field.name">
            <td>{{ field.name }}</td>
            <td class="soft">{{ field.role }}</td>
            <td class="soft">{{ field.holds }}</td>
            <td class="numbers" :class="{ loss: field.filled < overview.documents }">{{ share(field.filled) }}</td>
            <td class="numbers">{{ count(field.distinct) }}</td>
            <td class="soft">
              <div class="cut example">{{ field.example }}</div>
            </td>
          </tr>
        </tbody>
      </table>
      <p class="soft small after">From {{ files }}.</p>
    </section>
    <section>
      <template v-if="overview.languages.length > 1">
        <h2>Languages</h2>
        <p class="soft small">by the share of their function words</p>
        <p>
          <button
            v-for="bar in overview.languages"
            :key="bar.label"
            class="plain tag"
            @click="set({ tab: 'documents', language: [bar.label] })">
            {{ bar.label }} <span class="soft numbers">{{ count(bar.count) }}</span>
          </button>
        </p>
        <p v-if="!made" class="small">
          <button class="plain link" @click="split.mutate()">a strand for each language</button>
          <span class="soft"> with its own stop list; or choose one and keep only these</span>
        </p>
        <p v-else class="small" role="status">
          <template v-for="(each, at) in made" :key="each.strand"
            >{{ at ? ', ' : 'Made: ' }}<RouterLink :to="`/strand/${each.strand}/clean`">{{ each.language }}</RouterLink>
            <span class="soft numbers">&#8239;{{ count(each.documents) }}</span></template
          >
        </p>
      </template>
      <h2>Longest</h2>
      <p>
        <button v-for="each in overview.longest" :key="each.document" class="plain tag" @click="read(each.document)">
          {{ each.name }} <span class="soft numbers">{{ count(each.words) }} words</span>
        </button>
      </p>
      <template v-if="overview.rejected_kinds.length">
        <h2>Left out</h2>
        <div v-for="kind in overview.rejected_kinds" :key="kind.reason" class="kind">
          <b class="loss numbers">{{ counted(kind.count, kind.rows[0]?.unit === 'file' ? 'file' : 'row') }}</b>
          <span class="soft small">
            such as {{ kind.rows[0]?.file
            }}{{ kind.rows[0]?.line ? `, ${kind.rows[0].unit} ${kind.rows[0].line}` : '' }}:
            {{ kind.rows[0]?.reason }}</span
          >
          <code class="cut">{{ kind.rows[0]?.raw }}</code>
        </div>
        <button class="plain link" @click="set({ tab: 'rejected' })">see all</button>
      </template>
    </section>
  </div>
</template>

<style scoped>
.two {
  grid-template-columns: minmax(0, 3fr) minmax(0, 2fr);
}
td,
th {
  text-align: left;
  padding: 0.22rem 0.9rem 0.22rem 0;
  border-bottom: 1px solid var(--hairline);
  font-weight: 400;
}
th {
  color: var(--soft);
  font-size: 0.86rem;
}
th.numbers,
td.numbers {
  text-align: right;
}
.example {
  max-width: 12rem;
}
.after {
  margin-top: 0.5rem;
}
.tag {
  margin: 0 0.8rem 0.2rem 0;
  border-bottom: 2px solid var(--hairline);
}
.tag:hover {
  border-color: var(--woad);
}
.kind {
  margin-bottom: 0.4rem;
}
code {
  display: block;
  font-size: 0.86rem;
}
@media (max-width: 1180px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
