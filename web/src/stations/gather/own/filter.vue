<script setup lang="ts">
import Button from 'primevue/button'

import type { Schemas } from '@/api/client'
import { useAddress } from '@/frame/address'

/** A filter is made on the list of documents, where one sees what it leaves. */
defineProps<{ kind: Schemas['OperationKind'] }>()
const { set } = useAddress()
</script>

<template>
  <div class="form">
    <h3>{{ kind.title }}</h3>
    <p class="small soft">{{ kind.about }}</p>
    <Button :label="kind.action" size="small" severity="secondary" @click="set({ tab: 'documents' })" />
  </div>
</template>
