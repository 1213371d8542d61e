<script setup lang="ts">
import { computed, type Component } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { strandPath, useStrandQuery } from '@/api/strand'
import { useJob } from '@/frame/jobs'
import type { Field } from '@/frame/settings'
import { count } from '@/marks/format'

import { useShape } from '@/frame/shape'
import StepForm from './StepForm.vue'

const props = defineProps<{ fields: Schemas['FieldSummary'][]; documents: number }>()
const { operations, steps, remove } = useShape()
const rows = computed(() => steps.data.value ?? [])
const { newest, atWork: working } = useJob('build', 'gather')
const failed = computed(() => (newest.value?.state === 'failed' ? newest.value.error : ''))
const first = computed(() => rows.value[0]?.before ?? props.documents)

const kinds = useStrandQuery('shape kinds', 0, (strand) =>
  ask(client.GET('/api/strands/{strand_id}/shape/kinds', { params: strandPath(strand) })),
)
const named = computed(() => props.fields.filter((field) => field.distinct > 1 && field.filled > 0))
/** Forms of kinds that need more than their schema, each in a file named by its kind. */
const OWN = import.meta.glob<Component>('./own/*.vue', { eager: true, import: 'default' })
const formOf = (kind: string) => OWN[`./own/${kind}.vue`] ?? StepForm
const offered = computed(() =>
  (kinds.data.value ?? []).filter(
    (kind) => named.value.length || !Object.values(kind.fields as Record<string, Field>).some((field) => field.of),
  ),
)
</script>

<template>
  <div class="shape">
    <section>
      <h2>Steps</h2>
      <p v-if="!operations.length" class="soft">
        {{ count(documents) }} documents as they were brought in. Each step below makes a new version of them; the files
        stay as they are, and every step can be taken back.
      </p>
      <ol v-else>
        <li class="step start">
          <span class="bead" /><span>as brought in</span><span class="numbers">{{ count(first) }}</span>
        </li>
        <li v-for="(step, at) in rows" :key="at" class="step" :class="{ pending: step.after == null }">
          <span class="bead" />
          <span>
            {{ step.said }}
            <span v-for="note in step.notes" :key="note" class="soft small block">{{ note }}</span>
            <details v-for="each in step.lists" :key="each.name" class="small">
              <summary>{{ count(each.total) }} {{ each.name }}</summary>
              <span class="soft">{{ each.values.join(', ') }}{{ each.total > each.values.length ? ', …' : '' }}</span>
            </details>
          </span>
          <span class="numbers">
            <template v-if="step.after != null">
              {{ count(step.after) }}
              <span v-if="step.before! > step.after" class="loss small">−{{ count(step.before! - step.after) }}</span>
            </template>
            <span v-else class="soft small">{{ working ? 'working' : 'not done' }}</span>
          </span>
          <button class="plain soft" :aria-label="`Take back: ${step.said}`" @click="remove(at)">×</button>
        </li>
      </ol>
      <p v-if="failed" class="notice bad">{{ failed }}</p>
    </section>
    <section class="forms">
      <h2>Add a step</h2>
      <component :is="formOf(kind.kind)" v-for="kind in offered" :key="kind.kind" :kind="kind" :fields="named" />
    </section>
  </div>
</template>

<style scoped>
.shape {
  display: grid;
  grid-template-columns: minmax(16rem, 2fr) minmax(18rem, 3fr);
  gap: 2rem;
  margin-top: 0.8rem;
  align-items: start;
}
ol {
  list-style: none;
  margin: 0.6rem 0;
  padding: 0;
}
.step {
  display: grid;
  grid-template-columns: 1.2rem 1fr auto 1rem;
  gap: 0.5rem;
  padding: 0.5rem 0.2rem;
  border-bottom: 1px solid var(--hairline);
  position: relative;
}
.step::before {
  content: '';
  position: absolute;
  left: calc(0.2rem + 5px);
  top: 0;
  bottom: 0;
  border-left: 2px solid var(--woad);
}
.step.pending::before {
  border-left-style: dashed;
}
.step:first-child::before {
  top: 0.9rem;
}
.bead {
  width: 12px;
  height: 12px;
  border-radius: 50%;
  background: var(--woad);
  margin-top: 0.25rem;
  position: relative;
}
.pending .bead {
  background: var(--paper);
  border: 2px solid var(--woad);
}
.block {
  display: block;
}
.forms {
  display: grid;
  gap: 0.9rem;
}
.forms :deep(.form) {
  border-top: 1px solid var(--hairline);
  padding-top: 0.6rem;
  display: grid;
  gap: 0.4rem;
  justify-items: start;
}
</style>
