<script setup lang="ts">
import { useMutation } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { ref } from 'vue'

import { ask, client } from '@/api/client'
import { strandPath, useStrandId } from '@/api/strand'
import { count } from '@/marks/format'

import AlikeList from './AlikeList.vue'

/** A document of which there is only a vector, beside the others. */
defineProps<{ dimensions: number }>()
defineEmits<{ document: [number] }>()
const id = useStrandId()
const vector = ref('')
const place = useMutation({
  mutationFn: () =>
    ask(
      client.POST('/api/strands/{strand_id}/relate/alike/vector', {
        params: strandPath(id.value),
        body: { vector: vector.value },
      }),
    ),
})
</script>

<template>
  <details>
    <summary>A document that has only a vector</summary>
    <form class="row wrap small" @submit.prevent="place.mutate()">
      <textarea
        v-model="vector"
        rows="3"
        required
        aria-label="Vector"
        :placeholder="`${count(dimensions)} numbers, apart by commas or spaces`" />
      <Button type="submit" size="small" severity="secondary" label="Place it" :loading="place.isPending.value" />
    </form>
    <p v-if="place.error.value" class="notice bad">{{ place.error.value.message }}</p>
    <template v-else-if="place.data.value">
      <p class="small soft">{{ place.data.value.says }}.</p>
      <AlikeList :rows="place.data.value.nearest" @pick="$emit('document', $event)" />
    </template>
  </details>
</template>

<style scoped>
textarea {
  width: 26rem;
  max-width: 100%;
}
</style>
