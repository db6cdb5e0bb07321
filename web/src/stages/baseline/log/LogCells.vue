<script setup lang="ts">
import { computed } from 'vue'
import type { Grid, Span } from '@yuzumix/core'
import { grouped } from '@/parts/numbers/format'

/** The field's cells in small: how much of each this run fed, and where the cursor stands in it. */
const props = defineProps<{
  grid: Grid
  unit: string
  spans: Span[][][]
  /** cell that the cursor stands in */
  at: { row: number; column: number } | null
}>()
const chosen = defineModel<{ row: number; column: number } | null>('chosen', { required: true })
const seconds = computed(() =>
  props.spans.map((cells) => cells.map((list) => list.reduce((sum, one) => sum + one.to - one.from + 0.05, 0))),
)
const most = computed(() => Math.max(0.1, ...seconds.value.flat()))
const is = (a: { row: number; column: number } | null, row: number, column: number): boolean =>
  a !== null && a.row === row && a.column === column
/** Side of a cell's mark, as a share: its area is how long it was fed. */
const side = (row: number, column: number): number =>
  seconds.value[row]![column]! > 0 ? Math.max(0.2, Math.sqrt(seconds.value[row]![column]! / most.value)) : 0
const rows = computed(() => props.grid.load.map((load, row) => ({ load, row })).reverse())
const words = (row: number, column: number): string =>
  `${grouped(props.grid.rpm[column]!)} rpm, ${props.grid.load[row]} ${props.unit}: fed for ${seconds.value[row]![column]!.toFixed(1)} s`
</script>

<template>
  <div class="cells" role="group" aria-label="Cells of the field that this run fed">
    <div v-for="{ load, row } in rows" :key="load" class="row">
      <span class="figures soft load">{{ load }}</span>
      <button
        v-for="(rpm, column) in grid.rpm"
        :key="rpm"
        type="button"
        class="cell"
        :class="{ here: is(at, row, column), chosen: is(chosen, row, column) }"
        :disabled="side(row, column) === 0"
        :title="words(row, column)"
        :aria-label="words(row, column)"
        :aria-pressed="is(chosen, row, column)"
        @click="chosen = is(chosen, row, column) ? null : { row, column }"
      >
        <svg viewBox="0 0 10 10" aria-hidden="true">
          <rect
            :x="5 - 4.6 * side(row, column)"
            :y="5 - 4.6 * side(row, column)"
            :width="9.2 * side(row, column)"
            :height="9.2 * side(row, column)"
          />
        </svg>
      </button>
    </div>
  </div>
</template>

<style scoped>
.cells {
  display: grid;
  gap: 1px;
  overflow-x: auto;
}
.row {
  display: flex;
  gap: 1px;
  align-items: center;
}
.load {
  width: 34px;
  flex: none;
  font-size: 11.5px;
  text-align: right;
  padding-right: 4px;
}
.cell {
  flex: 1 1 0;
  min-width: 10px;
  height: 20px;
  padding: 0;
  border: 1px solid var(--line);
  border-radius: 2px;
  background: var(--panel);
  cursor: pointer;
}
.cell:disabled {
  cursor: default;
}
.cell svg {
  width: 100%;
  height: 100%;
  display: block;
}
.cell rect {
  fill: var(--leaf);
}
.cell.chosen {
  background: var(--yuzu-soft);
  border-color: var(--yuzu);
}
.cell.here {
  outline: 2px solid var(--ink);
  outline-offset: -1px;
}
/* Too small for a finger: the list of Mixture leads to the log from there. */
@media (max-width: 700px), (pointer: coarse) {
  .cells {
    display: none;
  }
}
</style>
