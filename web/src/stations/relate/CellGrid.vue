<script setup lang="ts" generic="Row">
/** A table of cells whose heads stay in sight; what stands in heads and cells goes into its slots. */
defineProps<{ rows: Row[]; columns: number }>()
</script>

<template>
  <div class="scroll">
    <table>
      <thead>
        <tr>
          <th />
          <th v-for="column in columns" :key="column" class="small"><slot name="column" :column="column - 1" /></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(row, at) in rows" :key="at">
          <th class="book"><slot name="row" :row="row" :at="at" /></th>
          <td v-for="column in columns" :key="column">
            <slot name="cell" :row="row" :at="at" :column="column - 1" />
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.scroll {
  max-height: 34rem;
  overflow: auto;
}
th {
  font-weight: 400;
  text-align: left;
  padding: 0 0.7rem 0 0;
  white-space: nowrap;
  background: var(--paper);
}
thead th {
  text-align: center;
  position: sticky;
  top: 0;
}
tbody th {
  position: sticky;
  left: 0;
}
td {
  padding: 1px;
}
</style>
