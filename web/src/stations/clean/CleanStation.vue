<script setup lang="ts">
import { computed, ref } from 'vue'

import { ask, client } from '@/api/client'
import { strandPath, useStrand, useStrandQuery, useWanted } from '@/api/strand'
import { useAddress } from '@/frame/address'
import { useEvidence } from '@/frame/evidence'
import StaleNotice from '@/frame/StaleNotice.vue'
import Waiting from '@/frame/Waiting.vue'
import { useKey } from '@/frame/keys'
import PassageText from '@/marks/PassageText.vue'
import { count, counted } from '@/marks/format'

import PassList from './PassList.vue'

const { strand, ply, made } = useStrand()
const { undo, redo } = useWanted()
const { get, set } = useAddress()
const { select, isSelected, read } = useEvidence()
const documentNumber = computed(() => Number(get('doc', '0')))
const total = computed(() => made.value.corpus?.documents ?? 0)
const specimen = useStrandQuery(
  'specimen',
  () => [documentNumber.value, strand.value?.wanted.clean],
  (strandId) =>
    ask(
      client.GET('/api/strands/{strand_id}/specimen', {
        params: { ...strandPath(strandId), query: { document: documentNumber.value } },
      }),
    ),
  () => total.value > 0,
)
const found = computed(() => specimen.data.value)
const first = computed(() => found.value?.survivals[0].tokens ?? 0)
const share = (tokens: number) => `${(100 * tokens) / Math.max(first.value, 1)}%`
const stale = computed(() => ply('cleaning')?.state === 'stale')
const opened = ref('')
const last = computed(() => found.value?.survivals.at(-1))
function go(by: number) {
  set({ doc: String((documentNumber.value + by + total.value) % total.value) })
}
useKey('j', 'next specimen', () => go(1))
useKey('k', 'previous specimen', () => go(-1))
</script>

<template>
  <div class="station clean">
    <p v-if="specimen.error.value" class="notice bad wide">{{ specimen.error.value.message }}</p>
    <p v-if="found?.emptied" class="notice bad wide">{{ found.emptied }}</p>
    <section class="left">
      <div class="row spread">
        <h1>Passes</h1>
        <span class="row small">
          <button class="plain" :disabled="!strand?.undo" @click="undo()">undo <kbd>u</kbd></button>
          <button class="plain" :disabled="!strand?.redo" @click="redo()">redo</button>
        </span>
      </div>
      <p class="soft small">in this order; drag, or <kbd>alt</kbd> <kbd>↑</kbd><kbd>↓</kbd></p>
      <PassList :survivals="found?.survivals ?? []" />
    </section>
    <section v-if="!found && !specimen.error.value" class="right">
      <h1>Specimen</h1>
      <Waiting v-if="total" :what="`Cleaning one of ${counted(total, 'document')}, and counting what survives`" />
      <p v-else class="soft">There are no documents yet. Bring some in at Gather.</p>
    </section>
    <section v-else-if="found" class="right">
      <div class="row head">
        <h1>Specimen</h1>
        <span class="soft cut grow">{{ found.name }} · {{ found.brief }}</span>
        <button class="plain" @click="go(-1)">
          <span class="hidden-text">Previous specimen</span><span aria-hidden="true">◂ <kbd>k</kbd></span>
        </button>
        <button class="plain" @click="go(1)">
          <span class="hidden-text">Next specimen</span><span aria-hidden="true"><kbd>j</kbd> ▸</span>
        </button>
        <button class="plain link" @click="read(found.document)">open</button>
      </div>
      <div
        class="paper"
        tabindex="0"
        role="region"
        aria-label="Specimen text"
        :class="{ waiting: specimen.isPlaceholderData.value }">
        <PassageText :pieces="found.segments" />
        <span v-if="!found.segments.length" class="soft">This document is empty.</span>
      </div>
      <StaleNotice :steps="['corpus', 'cleaning']">These passes are tried here, and not applied yet.</StaleNotice>
      <div class="two">
        <div>
          <h2>What survives, {{ found.sample ? 'sample' : 'whole corpus' }}</h2>
          <p class="soft small">
            tokens left after each pass{{ found.sample ? `, from the first ${count(found.sample)} documents` : '' }}
          </p>
          <button
            v-for="(row, at) in found.survivals"
            :key="row.key"
            class="plain survival"
            :class="{ off: !row.on, selected: isSelected({ removed_by: row.key }) }"
            :disabled="!row.removed || stale"
            :title="`${count(row.types)} distinct words left`"
            @click="select({ removed_by: row.key })">
            <span class="cut">{{ row.title.toLowerCase() }}</span>
            <span class="track">
              <i :style="{ width: share(row.tokens) }" />
              <i v-if="at" class="lost" :style="{ width: share(row.removed) }" />
            </span>
            <span class="numbers">{{ count(row.tokens) }}</span>
          </button>
          <p v-if="last" class="soft small after">
            {{ count(last.tokens) }} tokens and {{ count(last.types) }} distinct forms are left, of
            {{ count(first) }} and {{ count(found.survivals[0].types) }}.
          </p>
          <p v-if="last && !last.tokens" class="notice bad">Nothing is left. Switch off a pass, or shorten its list.</p>
        </div>
        <div>
          <h2>Word families</h2>
          <p class="soft small">words that become one form, the widest families first</p>
          <table v-if="found.families.length">
            <tbody>
              <tr v-for="family in found.families" :key="family.form">
                <td class="book form">{{ family.form }}</td>
                <td class="book members">
                  <button
                    class="plain members"
                    :class="{ cut: opened !== family.form }"
                    :title="family.words.join(', ')"
                    :aria-expanded="opened === family.form"
                    @click="opened = opened === family.form ? '' : family.form">
                    {{ family.words.join(', ') }}
                  </button>
                </td>
                <td class="numbers soft">{{ count(family.tokens) }}</td>
              </tr>
            </tbody>
          </table>
          <p v-else class="soft">Every word keeps its own form. Switch on word forms to bring forms together.</p>
        </div>
      </div>
    </section>
  </div>
</template>

<style scoped>
.clean {
  display: grid;
  grid-template-columns: 17.5rem minmax(0, 1fr);
  gap: 1.5rem;
  align-content: start;
}
.wide {
  grid-column: 1 / -1;
}
.head {
  align-items: baseline;
}
.paper {
  background: var(--raised);
  border: 1px solid var(--hairline);
  padding: 0.8rem 1.2rem 1.2rem;
  font-size: 1.13rem;
  line-height: 2.15;
  max-height: 42vh;
  overflow: auto;
  margin-bottom: 0.8rem;
}
.waiting {
  opacity: 0.7;
}
.two {
  grid-template-columns: 1fr 1fr;
  gap: 1.6rem;
}
.survival {
  display: grid;
  grid-template-columns: 7.6rem 1fr 4.2rem;
  gap: 0.6rem;
  align-items: center;
  width: 100%;
  padding: 0.2rem 0;
}
.survival > span:first-child {
  text-align: right;
}
.survival .numbers {
  text-align: right;
}
.survival:not(:disabled):hover,
.selected {
  background: var(--woad-wash);
}
.survival:disabled {
  cursor: default;
}
.off {
  color: var(--soft);
}
.track {
  display: flex;
  height: 11px;
}
i {
  background: var(--woad);
}
i.lost {
  background: var(--struck);
  opacity: 0.55;
}
.after {
  margin-top: 0.6rem;
}
td {
  border-bottom: 1px solid var(--hairline);
  padding: 0.22rem 0.8rem 0.22rem 0;
  vertical-align: baseline;
}
.form {
  color: var(--woad);
}
td.members {
  width: 100%;
  max-width: 0;
}
button.members {
  display: block;
  width: 100%;
}
button:disabled {
  color: var(--soft);
}
@media (max-width: 1180px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
