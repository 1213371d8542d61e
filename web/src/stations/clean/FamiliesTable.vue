<script setup lang="ts">
import type { Schemas } from '@/api/client'

import FamilyRow from './FamilyRow.vue'

defineProps<{ families: Schemas['FormFamily'][] }>()
</script>

<template>
  <div>
    <h2>Word families</h2>
    <p class="soft small">words that become one form, the widest first; open one to take it apart</p>
    <FamilyRow v-for="family in families" :key="family.form" :family="family" />
    <p v-if="!families.length" class="soft">Every word keeps its own form here.</p>
  </div>
</template>
