<script setup lang="ts">
import { ref, watch } from 'vue'

import type { Topic } from '@/api/client'
import { ask, client } from '@/api/client'
import { useStrandQuery } from '@/api/strand'
import { useTopics } from '@/api/topics'
import WorkingLines from '@/marks/WorkingLines.vue'
import { counted, decimal, percent, within } from '@/marks/format'

/** Share, measures and how often a topic is found again; the whole opens to its working. */
const props = defineProps<{ topic: Topic }>()
const { measures, sharesOf, fit } = useTopics()
const open = ref(false)
watch(
  () => props.topic.topic,
  () => (open.value = false),
)
const working = useStrandQuery(
  'working of a topic',
  () => [fit.value, props.topic.topic],
  (id) =>
    ask(
      client.GET('/api/strands/{strand_id}/topics/{topic}/working', {
        params: { path: { strand_id: id, topic: props.topic.topic } },
      }),
    ),
  open,
)
</script>

<template>
  <div>
    <h2>Measures</h2>
    <dl>
      <dt>share of {{ sharesOf }}</dt>
      <dd>
        <button class="plain link" :aria-expanded="open" title="How these came about" @click="open = !open">
          {{ percent(topic.share.mean) }}
        </button>
        {{ ' ' }}
        <span v-if="topic.share.low !== null && topic.share.high !== null" class="soft small"
          >{{ percent(topic.share.low) }} to {{ percent(topic.share.high) }}</span
        >
      </dd>
      <template v-for="measure in measures" :key="measure.key">
        <dt :title="measure.rewards">{{ within(measure.title) }}</dt>
        <dd>{{ decimal(topic.measures[measure.key], 2, topic.empty ? 'none: empty' : 'none') }}</dd>
      </template>
      <dt>documents with 10 % or more</dt>
      <dd>{{ counted(topic.documents, 'document') }}</dd>
      <template v-if="topic.seeds">
        <dt>found again</dt>
        <dd>
          in {{ topic.found_again }} of {{ counted(topic.seeds, 'other seed') }}
          <span class="seeds" aria-hidden="true"
            ><i v-for="n in topic.seeds" :key="n" :class="{ hit: n <= topic.found_again }"
          /></span>
        </dd>
      </template>
    </dl>
    <WorkingLines v-if="open && working.data.value" :lines="working.data.value.lines" class="worked" />
  </div>
</template>

<style scoped>
dl {
  margin: 0.3rem 0 0.6rem;
}
dt {
  color: var(--soft);
  font-size: 0.86rem;
}
dd {
  margin: 0 0 0.4rem;
  font-size: 1.05rem;
}
.worked {
  display: block;
}
.seeds {
  display: flex;
  gap: 4px;
  margin-top: 3px;
}
.seeds i {
  width: 11px;
  height: 11px;
  border-radius: 50%;
  border: 1.5px solid var(--woad);
}
.seeds .hit {
  background: var(--woad);
}
</style>
