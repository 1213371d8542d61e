<script setup lang="ts">
import { computed, ref, watch } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { useStrand, useStrandQuery } from '@/api/strand'
import Waiting from '@/frame/Waiting.vue'
import { useEvidence } from '@/frame/evidence'
import { colour } from '@/marks/dyes'
import { count, counted, decimal, percent } from '@/marks/format'

import FitWorking from './FitWorking.vue'

/** Documents by the share that a topic has of them: how much at least, and in which order. */
const props = defineProps<{ topic: number; dye: number }>()
const { ply } = useStrand()
const { read } = useEvidence()
const least = ref(10)
const order = ref<Schemas['TopicDocuments']['orders'][number]>('share')
const shown = ref(25)
const open = ref(-1)
watch(
  () => [props.topic, least.value, order.value],
  () => {
    shown.value = 25
    open.value = -1
  },
)
const CALLED = {
  share: 'share',
  'share and length': 'share × ln(length)',
  'borne out': 'share borne out by words',
  nearness: 'nearness to the centre',
  typical: 'how typical they are',
  border: 'how near they are to another topic',
}
const page = useStrandQuery(
  'documents of a topic',
  () => [ply('fit')?.identity, props.topic, least.value, order.value, shown.value],
  (id) =>
    ask(
      client.GET('/api/strands/{strand_id}/topics/{topic}/documents', {
        params: {
          path: { strand_id: id, topic: props.topic },
          query: { least: least.value / 100, order: order.value, limit: shown.value },
        },
      }),
    ),
)
const found = computed(() => page.data.value)
// Other fits have other orders.
watch(found, (now) => now && !now.orders.includes(order.value) && (order.value = now.orders[0]))
/** Of one topic or none: how near they are stands where shares do. */
const near = computed(() => found.value?.orders[0] === 'nearness')
</script>

<template>
  <section aria-label="Documents of the topic">
    <div class="row wrap head">
      <h2>
        {{ counted(found?.total ?? 0, 'document') }}
        <small class="soft">of {{ count(found?.of ?? 0) }}</small>
      </h2>
      <label v-if="!near" class="small"
        >at least
        <input
          type="number"
          min="0"
          max="100"
          :value="least"
          aria-label="Least share in percent"
          @change="least = Math.min(100, Math.max(0, Number(($event.target as HTMLInputElement).value) || 0))" />
        %</label
      >
      <label class="small"
        >ordered by
        <select v-model="order" aria-label="Order of the documents">
          <option v-for="each in found?.orders ?? [order]" :key="each" :value="each">
            {{ CALLED[each] }}
          </option>
        </select></label
      >
    </div>
    <p v-if="found" class="soft small why">{{ found.why }}</p>
    <Waiting v-if="page.isPending.value" what="Ordering the documents" />
    <p v-else-if="page.error.value" class="notice bad">{{ page.error.value.message }}</p>
    <p v-else-if="!found?.total" class="soft">No document has so much of it. Lower the least share.</p>
    <template v-else>
      <div v-for="each in found.documents" :key="each.document" class="document">
        <button
          class="plain share numbers"
          :aria-expanded="open === each.document"
          :title="`How the share of ${each.name} came about`"
          @click="open = open === each.document ? -1 : each.document">
          {{ near ? decimal(each.score) : percent(each.share) }}
          <i :style="{ width: `${100 * (near ? Math.max(0, each.score) : each.share)}%`, background: colour(dye) }" />
        </button>
        <button class="plain link" @click="read(each.document)">{{ each.name }}</button>
        <span class="soft small cut grow">{{ each.brief }}</span>
        <span class="soft small numbers"
          >{{ near ? '' : `${decimal(each.tokens, 1)} of ` }}{{ count(Math.round(each.counted)) }} words{{
            order === 'share' || near ? '' : ` · ${decimal(each.score)}`
          }}</span
        >
        <FitWorking v-if="open === each.document" class="worked" :of="{ topic, document: each.document }" />
      </div>
      <button
        v-if="found.total > shown && shown < 200"
        class="plain link small"
        @click="shown = Math.min(200, shown + 50)">
        {{ count(Math.min(50, found.total - shown)) }} more
      </button>
      <p v-else-if="found.total > shown" class="soft small">The first {{ shown }}; documents.csv of Share has all.</p>
    </template>
  </section>
</template>

<style scoped>
.head {
  gap: 0.3rem 1.2rem;
  align-items: baseline;
}
.head input {
  width: 4rem;
}
.why {
  margin: 0.1rem 0 0.3rem;
}
.document {
  display: flex;
  flex-wrap: wrap;
  gap: 0.2rem 0.8rem;
  align-items: baseline;
  padding: 0.2rem 0;
  border-top: 1px solid var(--hairline);
}
.document .grow {
  flex-basis: 8rem;
  min-width: 0;
}
.share {
  width: 4.4rem;
  min-height: 26px;
  text-align: left;
}
.share i {
  display: block;
  height: 3px;
}
.worked {
  flex-basis: 100%;
}
</style>
