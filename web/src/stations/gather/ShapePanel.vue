<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref } from 'vue'

import type { Schemas } from '@/api/client'
import { useStrand } from '@/api/strand'
import { jobs } from '@/frame/jobs'
import { useAddress } from '@/frame/selection'
import { count } from '@/marks/format'

import JoinForm from './JoinForm.vue'
import { useShape, type Operation } from './shape'
import StepForm from './StepForm.vue'

const props = defineProps<{ fields: Schemas['FieldSummary'][]; documents: number }>()
const { id } = useStrand()
const { set } = useAddress()
const { operations, steps, remove } = useShape()
const rows = computed(() => steps.data.value ?? [])
const working = computed(() =>
  jobs.value.some((job) => job.strand === id.value && ['queued', 'running'].includes(job.state)),
)
const failed = computed(() => {
  const last = jobs.value.find((job) => job.strand === id.value && job.kind === 'build')
  return last?.state === 'failed' ? last.error : ''
})
const first = computed(() => rows.value[0]?.before ?? props.documents)

const categories = computed(() => props.fields.filter((field) => field.distinct > 1 && field.filled > 0))
const near = ref(true)
const threshold = ref(0.8)
const keep = ref<'first' | 'longest' | 'newest'>('first')
const field = ref('')
const least = ref(100)
const key = ref('')
const size = ref(1000)
const seed = ref(1)
const joining = ref(false)

const groupField = computed(
  () => (categories.value.find((each) => each.role === 'group') ?? categories.value[0])?.name ?? '',
)
const others = computed(() => categories.value.map((each) => each.name).filter((name) => name !== groupField.value))
const duplicates = computed<Operation>(() => ({
  kind: 'duplicates',
  near: near.value,
  threshold: threshold.value,
  keep: keep.value,
}))
const groups = computed<Operation>(() => ({
  kind: 'small-groups',
  field: field.value || groupField.value,
  least: least.value,
}))
const combine = computed<Operation>(() => ({ kind: 'combine', field: key.value || groupField.value }))
const sample = computed<Operation>(() => ({ kind: 'sample', size: size.value, seed: seed.value }))
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
      <StepForm title="Repeats" action="Leave repeats out" :operation="duplicates">
        <label class="row"><input v-model="near" type="checkbox" /> near-repeats too, from</label>
        <label class="row">
          <input v-model.number="threshold" type="range" min="0.4" max="1" step="0.05" :disabled="!near" />
          <span class="numbers">{{ threshold.toFixed(2) }}</span> alike
        </label>
        <label class="row">
          keep the
          <select v-model="keep">
            <option>first</option>
            <option>longest</option>
            <option>newest</option>
          </select>
        </label>
      </StepForm>
      <StepForm v-if="categories.length" title="Small groups" action="Drop small groups" :operation="groups">
        <label class="row">
          drop groups of
          <select v-model="field">
            <option value="">{{ groupField }}</option>
            <option v-for="each in others" :key="each">{{ each }}</option>
          </select>
        </label>
        <label class="row"
          >with fewer than <input v-model.number="least" type="number" min="2" class="number" /> documents</label
        >
      </StepForm>
      <div class="form">
        <h3>Some documents only</h3>
        <p class="small soft">
          Filter or search the list until it shows what you mean, then keep only these or leave these out.
        </p>
        <Button label="To the list" size="small" severity="secondary" @click="set({ tab: 'documents' })" />
      </div>
      <div class="form">
        <h3>Fields from a second table</h3>
        <JoinForm v-if="joining" :fields="fields" @done="joining = false" />
        <template v-else>
          <p class="small soft">A table with a row for each group, author or place, joined by a key.</p>
          <Button label="Join a table" size="small" severity="secondary" @click="joining = true" />
        </template>
      </div>
      <StepForm v-if="categories.length" title="Several rows, one document" action="Combine" :operation="combine">
        <label class="row">
          one document for each
          <select v-model="key">
            <option value="">{{ groupField }}</option>
            <option v-for="each in others" :key="each">{{ each }}</option>
          </select>
        </label>
      </StepForm>
      <StepForm title="Sample" action="Draw" :operation="sample">
        <label class="row">draw <input v-model.number="size" type="number" min="1" class="number" /> at random</label>
        <label class="row">seed <input v-model.number="seed" type="number" min="0" class="number" /></label>
      </StepForm>
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
.form {
  border-top: 1px solid var(--hairline);
  padding-top: 0.6rem;
  display: grid;
  gap: 0.4rem;
  justify-items: start;
}
</style>
