<script setup lang="ts">
import CellFormula from './CellFormula.vue'
import { useCell } from './cells'
import MatrixGrid from './MatrixGrid.vue'
import ScopeChooser from './ScopeChooser.vue'
import StrongestCells from './StrongestCells.vue'

/** The matrix itself: a corner of it, a cell of that, and its cells as rows. */
const { chosen } = useCell()
</script>

<template>
  <div class="parts">
    <MatrixGrid><ScopeChooser /></MatrixGrid>
    <CellFormula v-if="chosen" :document="chosen.document" :term="chosen.term" />
    <p v-else class="soft small">A cell opens to its formula; Enter does the same as a click.</p>
    <StrongestCells />
  </div>
</template>

<style scoped>
.parts {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 1.2rem;
  min-width: 0;
}
.parts p {
  margin: 0;
}
</style>
