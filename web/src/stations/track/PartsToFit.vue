<script setup lang="ts">
import { computed } from 'vue'

import { useFitParts, type Parting } from '@/api/apart'
import JobNotice from '@/frame/JobNotice.vue'
import Waiting from '@/frame/Waiting.vue'
import { useJob } from '@/frame/jobs'
import { count, counted } from '@/marks/format'

/** Parts that are not fitted: how many fits it would take, the button that begins them, and the job at work. */
const props = defineProps<{ of?: Parting; parts?: number; rests?: string; waiting: boolean }>()
const make = useFitParts()
const { told } = useJob('parting')
const fits = computed(() => 2 * (props.parts ?? 0) * (props.of?.seeds ?? 3))
</script>

<template>
  <p v-if="make.error.value" class="notice bad">{{ make.error.value.message }}</p>
  <JobNotice v-if="told" :job="told" />
  <Waiting v-else-if="parts === undefined || waiting" what="Looking at the parts" />
  <template v-else>
    <p class="row">
      <button class="plain chip first" :disabled="make.isPending.value" @click="of && make.mutate(of)">
        Fit each of {{ counted(parts, 'part') }}
      </button>
      <span class="soft">{{ count(fits) }} fits, half of them of documents dealt out at random</span>
    </p>
    <p class="soft small">{{ rests }}</p>
  </template>
</template>

<style scoped>
.first {
  font-weight: 700;
}
</style>
