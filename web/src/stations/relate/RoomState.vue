<script setup lang="ts">
import Waiting from '@/frame/Waiting.vue'

/** Where a room has nothing to show yet: what went wrong, what it waits for, or what would be there. */
defineProps<{ made: boolean; fault?: string; what: string }>()
</script>

<template>
  <p v-if="made && fault" class="notice bad">{{ fault }}</p>
  <Waiting v-else-if="made" :what="what" />
  <p v-else class="soft"><slot /></p>
</template>
