<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { RouterLink } from 'vue-router'

import { ask, client } from '@/api/client'
import { count } from '@/marks/format'

import ImportPanel from './ImportPanel.vue'

const skeins = useQuery({ queryKey: ['skeins'], queryFn: () => ask(client.GET('/api/skeins')) })
</script>

<template>
  <div class="station start">
    <section>
      <h1>Bring documents in</h1>
      <ImportPanel />
    </section>
    <section v-if="skeins.data.value?.length">
      <h2>Skeins on this machine</h2>
      <ul>
        <li v-for="skein in skeins.data.value" :key="skein.id">
          <RouterLink :to="`/strand/${skein.strands[0]}/gather`">
            <b>{{ skein.name }}</b>
            <span class="soft">
              {{ skein.documents === null ? 'being brought in' : `${count(skein.documents ?? 0)} documents` }}
              <template v-if="skein.strands.length > 1">· {{ skein.strands.length }} strands</template>
            </span>
          </RouterLink>
        </li>
      </ul>
    </section>
  </div>
</template>

<style scoped>
.start {
  display: grid;
  gap: 2rem;
  align-content: start;
}
ul {
  list-style: none;
  padding: 0;
  max-width: 46rem;
}
li a {
  display: flex;
  justify-content: space-between;
  padding: 0.7rem 0.3rem;
  border-bottom: 1px solid var(--hairline);
  color: var(--ink);
  text-decoration: none;
}
li a:hover {
  background: var(--woad-wash);
}
</style>
