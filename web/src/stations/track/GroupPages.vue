<script setup lang="ts">
import { computed } from 'vue'

import type { PrevalenceTable } from '@/api/prevalence'
import { useAddress } from '@/frame/address'
import { count } from '@/marks/format'

/** The way to the other groups, where there are more than a page. */
defineProps<{ table: PrevalenceTable }>()
const { get, set } = useAddress()
const page = computed(() => Number(get('page', '1')) || 1)
</script>

<template>
  <div v-if="table.pages > 1" class="row small">
    <button class="plain chip" :disabled="page < 2" @click="set({ page: String(page - 1) })">←</button>
    {{ table.group }} {{ count(table.first) }} to {{ count(table.first + table.groups.length - 1) }} of
    {{ count(table.all_groups) }}, the largest first
    <button class="plain chip" :disabled="page >= table.pages" @click="set({ page: String(page + 1) })">→</button>
  </div>
</template>
