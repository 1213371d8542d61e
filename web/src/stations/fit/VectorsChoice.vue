<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '@/api/client'
import { useWanted } from '@/api/strand'

/** The document vectors that a fit reads: as they are made at Relate, or from weights of terms. */
type Vectors = Schemas['DocumentVectorsSettings']
const props = defineProps<{ value: Vectors; usual: Vectors }>()
const emit = defineEmits<{ change: [Vectors] }>()
const { wanted } = useWanted()
const atRelate = computed(() => wanted.value?.beside?.document_vectors as Vectors | undefined)
const OF = { terms: 'weights of terms', words: 'means of word vectors', field: 'a field', file: 'a file' }
const said = (of: Vectors) => {
  const name = of.of === 'field' ? `the field ${of.field}` : of.of === 'file' ? of.file?.name : OF[of.of ?? 'terms']
  return of.of === 'terms' ? `${name}, ${of.dimensions}` : name
}
const same = (one: Vectors, other?: Vectors) => !!other && said(one) === said(other)
const options = computed(() =>
  [props.usual, atRelate.value, props.value].filter(
    (each, at, all): each is Vectors => !!each && all.findIndex((other) => same(each, other)) === at,
  ),
)
</script>

<template>
  <label title="Others are made at Relate, Alike documents"
    >vectors
    <select
      :value="said(value)"
      aria-label="vectors"
      @change="emit('change', options[($event.target as HTMLSelectElement).selectedIndex])">
      <option v-for="each in options" :key="said(each)" :value="said(each)">
        {{ said(each) }}{{ same(each, atRelate) ? ', as at Relate' : '' }}
      </option>
    </select></label
  >
</template>
