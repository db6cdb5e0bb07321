<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { computed, useTemplateRef } from 'vue'
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
const [LEFT, HIGH] = [34, 21]
const { width } = useElementSize(useTemplateRef('box'))
const height = computed(() => props.grid.load.length * HIGH)
const wide = computed(() => Math.max(4, (width.value - LEFT - 2) / props.grid.rpm.length))
const room = computed(() => Math.min(wide.value, HIGH) - 4)
const x = (column: number): number => LEFT + (column + 0.5) * wide.value
const y = (row: number): number => (props.grid.load.length - row - 0.5) * HIGH
function choose(row: number, column: number): void {
  if (side(row, column) > 0) chosen.value = is(chosen.value, row, column) ? null : { row, column }
}
/** Steps of the arrow keys, in rows and columns. */
const STEPS: Record<string, [number, number]> = {
  ArrowUp: [1, 0],
  ArrowDown: [-1, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
}
/** Goes on to the next cell that was fed. */
function walk(event: KeyboardEvent): void {
  const step = STEPS[event.key]
  if (!step) return
  event.preventDefault()
  let { row, column } = chosen.value ?? props.at ?? { row: 0, column: 0 }
  do [row, column] = [row + step[0], column + step[1]]
  while (seconds.value[row]?.[column] !== undefined && side(row, column) === 0)
  if (seconds.value[row]?.[column] !== undefined) chosen.value = { row, column }
}
</script>

<template>
  <div
    ref="box"
    class="cells"
    tabindex="0"
    role="application"
    aria-label="Cells of the field that this run fed. Arrows move from one to the next."
    @keydown="walk"
  >
    <svg :width="width" :height="height" aria-hidden="true">
      <text v-for="{ load, row } in rows" :key="load" :x="LEFT - 6" :y="y(row) + 4" text-anchor="end">{{ load }}</text>
      <!-- The cursor moves at every frame; what it moves over stays as it is. -->
      <g v-for="{ row } in rows" :key="row" v-memo="[grid, spans, chosen, wide]">
        <g
          v-for="(rpm, column) in grid.rpm"
          :key="rpm"
          :data-at="`${rpm}:${grid.load[row]}`"
          :class="{ chosen: is(chosen, row, column), fed: side(row, column) > 0 }"
          @click="choose(row, column)"
        >
          <title>{{ words(row, column) }}</title>
          <rect :x="x(column) - wide / 2" :y="y(row) - HIGH / 2" :width="wide - 1" :height="HIGH - 1" class="frame" />
          <rect
            v-if="side(row, column)"
            :x="x(column) - (room * side(row, column)) / 2"
            :y="y(row) - (room * side(row, column)) / 2"
            :width="room * side(row, column)"
            :height="room * side(row, column)"
            class="mark"
          />
        </g>
      </g>
      <rect
        v-if="at"
        :x="x(at.column) - wide / 2"
        :y="y(at.row) - HIGH / 2"
        :width="wide - 1"
        :height="HIGH - 1"
        class="here"
      />
    </svg>
  </div>
</template>

<style scoped>
.cells svg {
  display: block;
}
text {
  font: 11.5px var(--figures);
  fill: var(--soft);
}
.frame {
  fill: var(--panel);
  stroke: var(--line);
}
.fed {
  cursor: pointer;
}
.mark {
  fill: var(--leaf);
}
.chosen .frame {
  fill: var(--yuzu-soft);
  stroke: var(--yuzu);
  stroke-width: 2;
}
.here {
  fill: none;
  pointer-events: none;
  stroke: var(--ink);
  stroke-width: 2;
}
/* Too small for a finger: the list of Mixture leads to the log from there. */
@media (max-width: 700px), (pointer: coarse) {
  .cells {
    display: none;
  }
}
</style>
