<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { decimal } from '@/marks/format'

/** Figures worked out: value, formula, the formula with its own numbers. */
defineProps<{ lines: Schemas['Line'][] }>()
</script>

<template>
  <dl class="working">
    <template v-for="line in lines" :key="line.name">
      <dt>{{ line.name }}</dt>
      <dd>
        <b class="numbers">{{ decimal(line.value, line.value && Math.abs(line.value) < 0.01 ? 6 : 3) }}</b> =
        {{ line.formula }}
        <span class="soft">{{ line.numbers }}</span>
      </dd>
    </template>
  </dl>
</template>

<style scoped>
.working {
  display: grid;
  grid-template-columns: max-content minmax(0, 1fr);
  gap: 0.15rem 1rem;
  margin: 0.2rem 0 0.5rem;
  text-align: left;
  font-size: 0.88rem;
}
dt {
  font-weight: 650;
}
dd {
  margin: 0;
}
dd span {
  display: block;
}
</style>
