<script setup lang="ts">
import { computed, defineAsyncComponent } from 'vue'

import { useStrand } from '@/api/strand'
import RoomRow from '@/frame/RoomRow.vue'
import StaleNotice from '@/frame/StaleNotice.vue'
import Waiting from '@/frame/Waiting.vue'
import { useEvidence } from '@/frame/evidence'
import { useRooms } from '@/frame/rooms'
import { count, counted, percent } from '@/marks/format'

import PrunePart from './PrunePart.vue'
import { useTrying } from './trying'
import { alike, COUNTS, useWeighting } from './weighting'

const VIEWS: Record<string, unknown> = {
  prune: PrunePart,
  weights: defineAsyncComponent(() => import('./WeightsPart.vue')),
  grid: defineAsyncComponent(() => import('./GridPart.vue')),
  terms: defineAsyncComponent(() => import('./TermsPart.vue')),
  new: defineAsyncComponent(() => import('./NewTextPart.vue')),
  files: defineAsyncComponent(() => import('./FilesPart.vue')),
}
const { strand, ply, made } = useStrand()
const { open: room, go } = useRooms()
const { select } = useEvidence()
const trying = useTrying()
const { weighting, choices } = useWeighting()
const found = computed(() => trying.found.value)
const kept = computed(() => found.value?.kept)
const stale = computed(() => ply('cleaning')?.state === 'stale' || ply('matrix')?.state === 'stale')
const usual = computed(() =>
  choices.value?.schemes.find((each) => alike({ ...COUNTS, ...each.weighting }, weighting.value)),
)
const said = computed(() => {
  if (usual.value) return usual.value.name
  const local = choices.value?.local_weights.find((each) => each.name === weighting.value.local_weight)?.title
  const across = choices.value?.global_weights.find((each) => each.name === weighting.value.global_weight)?.title
  const norm = choices.value?.norms.find((each) => each.name === weighting.value.norm)?.title
  return local ? `${local} × ${across}, ${norm === 'none' ? 'length as it is' : norm}` : ''
})
const TRYING = ['prune', 'files']
const props = computed(() => (TRYING.includes(room.value.name) ? { trying } : {}))
</script>

<template>
  <div class="station weigh">
    <p v-if="trying.fault.value" class="notice bad">{{ trying.fault.value }}</p>
    <template v-if="kept && found">
      <div class="row wrap spread">
        <h1>Vocabulary</h1>
        <dl class="row wrap numbers">
          <div>
            <dt>terms</dt>
            <dd>
              {{ count(kept.terms) }} <small>of {{ count(found.whole.terms) }}</small>
            </dd>
          </div>
          <div :title="`${count(found.whole.nonzero)} before pruning`">
            <dt>non-zeros</dt>
            <dd>{{ count(kept.nonzero) }}</dd>
          </div>
          <div :title="`${percent(found.whole.sparsity)} before pruning`">
            <dt>sparsity</dt>
            <dd>{{ percent(kept.sparsity) }}</dd>
          </div>
          <div
            :title="`half of the documents have ${kept.quarters[0]} to ${kept.quarters[2]}, the middle one ${kept.quarters[1]}`">
            <dt>terms a document</dt>
            <dd>
              {{ kept.per_document.toFixed(1) }} <small>{{ kept.quarters[0] }}–{{ kept.quarters[2] }}</small>
            </dd>
          </div>
          <div>
            <dt>of the tokens</dt>
            <dd>{{ percent(kept.tokens / Math.max(1, found.whole.tokens)) }}</dd>
          </div>
          <div :title="`${counted(found.whole.emptied, 'document')} had no word before pruning`">
            <dt>emptied</dt>
            <dd>
              <button class="plain link" :disabled="stale || !kept.emptied" @click="select({ flag: 'emptied' })">
                {{ counted(kept.emptied, 'document') }}
              </button>
            </dd>
          </div>
        </dl>
      </div>
      <StaleNotice :steps="['corpus', 'cleaning', 'matrix']"
        >Labels follow the matched topics as suggestions.</StaleNotice
      >
      <p v-if="!kept.terms" class="notice bad">
        No term is left. Lower the minimum number of documents, raise the largest share, or switch off passes in Clean.
      </p>
      <p v-if="found.sample" class="notice">
        Figures from a sample of {{ count(found.sample) }} documents; rebuild for all.
      </p>
      <RoomRow label="Parts of Weigh">
        <button class="plain small soft" title="Change it in Weights" @click="go('weights')">
          weighed by <b>{{ said }}</b>
        </button>
        <span v-if="found.held_out" class="small soft"
          >learnt from {{ counted(found.of, 'training document') }}, {{ count(found.held_out) }} held out</span
        >
      </RoomRow>
      <Suspense :timeout="0">
        <component :is="VIEWS[room.name]" v-bind="props" />
        <template #fallback><Waiting what="Opening" /></template>
      </Suspense>
    </template>
    <template v-else-if="ply('cleaning')?.identity && !trying.fault.value">
      <h1>Vocabulary</h1>
      <Waiting :what="`Counting the terms of ${counted(made.corpus?.documents ?? 0, 'document')}`" />
    </template>
    <p v-else-if="strand && !ply('cleaning')?.identity" class="soft">
      Nothing has been cleaned yet. Bring documents in at Gather first.
    </p>
  </div>
</template>

<style scoped>
.weigh {
  display: grid;
  gap: 0.9rem;
  align-content: start;
  grid-template-columns: minmax(0, 1fr);
}
dl {
  margin: 0;
  gap: 0.4rem 1.6rem;
}
dt {
  font-size: 0.8rem;
  color: var(--soft);
}
dd {
  margin: 0;
  font-family: var(--heading);
  font-size: 1.25rem;
}
dd small {
  font-size: 0.85rem;
  color: var(--soft);
}
.link:not(:disabled) {
  color: var(--woad);
  text-decoration: underline;
}
</style>
