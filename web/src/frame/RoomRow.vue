<script setup lang="ts">
import { count } from '@/marks/format'

import { useKey } from './keys'
import { useRooms } from './rooms'

/** The rooms of a station in one row; beside a name how much of it has been set. */
defineProps<{ label: string; counts?: Record<string, number> }>()
const { rooms, open, go, step } = useRooms()
useKey('[', 'room before', () => step(-1))
useKey(']', 'next room', () => step(1))
</script>

<template>
  <div class="row wrap rooms">
    <span role="group" :aria-label="label">
      <button
        v-for="room in rooms"
        :key="room.name"
        class="plain part"
        :aria-pressed="open === room"
        @click="go(room.name)">
        {{ room.label }}<small v-if="counts?.[room.name]" class="soft numbers">{{ count(counts[room.name]) }}</small>
      </button>
    </span>
    <slot />
  </div>
</template>

<style scoped>
.rooms {
  border-bottom: 1px solid var(--soft);
  gap: 0.2rem 1.4rem;
}
.part {
  padding: 0.3rem 0.9rem 0.35rem 0;
  margin-right: 0.6rem;
  min-height: 28px;
}
.part small {
  margin-left: 0.35rem;
}
.part[aria-pressed='true'] {
  font-weight: 700;
  box-shadow: inset 0 -3px 0 var(--woad);
}
</style>
