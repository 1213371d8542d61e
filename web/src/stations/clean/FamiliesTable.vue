<script setup lang="ts">
import { ref } from 'vue'

import type { Schemas } from '@/api/client'
import { count } from '@/marks/format'

defineProps<{ families: Schemas['Family'][] }>()
const opened = ref('')
</script>

<template>
  <div>
    <h2>Word families</h2>
    <p class="soft small">words that become one form, the widest families first</p>
    <table v-if="families.length">
      <tbody>
        <tr v-for="family in families" :key="family.form">
          <td class="book form">{{ family.form }}</td>
          <td class="book members">
            <button
              class="plain members"
              :class="{ cut: opened !== family.form }"
              :title="family.words.join(', ')"
              :aria-expanded="opened === family.form"
              @click="opened = opened === family.form ? '' : family.form">
              {{ family.words.join(', ') }}
            </button>
          </td>
          <td class="numbers soft">{{ count(family.tokens) }}</td>
        </tr>
      </tbody>
    </table>
    <p v-else class="soft">Every word keeps its own form. Switch on word forms to bring forms together.</p>
  </div>
</template>

<style scoped>
td {
  border-bottom: 1px solid var(--hairline);
  padding: 0.22rem 0.8rem 0.22rem 0;
  vertical-align: baseline;
}
.form {
  color: var(--woad);
}
td.members {
  width: 100%;
  max-width: 0;
}
button.members {
  display: block;
  width: 100%;
}
</style>
