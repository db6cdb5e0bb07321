<script setup lang="ts">
import { computed } from 'vue'
import { isRunning, locate, type CylinderField, type Field, type LoadGrid, type RigSample } from '@yuzumix/core'
import RpmAxis from '@/parts/chart/RpmAxis.vue'
import { useRulerStack } from '@/parts/chart/useRulerStack'
import FieldCells from '@/parts/field/FieldCells.vue'
import { useDisplay } from '@/stores/display'

/** The field with the operating point moving on it, and its trail. */
const props = defineProps<{
  grid: LoadGrid
  field: Field | null
  cylinder: CylinderField | null
  sample: RigSample | null
  recent: readonly RigSample[]
}>()
const display = useDisplay()
const { box, svg, width, height, x } = useRulerStack(() => props.grid)
const AXIS = 24
/** Trail: every fifth reading is plenty for the eye. */
const EVERY = 5

const top = AXIS
const room = computed(() => Math.max(60, height.value - AXIS - 4))
const rowHeight = computed(() => room.value / props.grid.load.length)
function y(load: number): number {
  const [row, share] = locate(props.grid.load, load)
  return top + room.value - (row + share + 0.5) * rowHeight.value
}
const isShown = (sample: RigSample): boolean => isRunning(sample.rpm)
const trail = computed(() =>
  props.recent
    .filter((one, k) => k % EVERY === 0 && isShown(one))
    .map((one) => `${x.value(one.rpm).toFixed(1)},${y(one.throttle).toFixed(1)}`)
    .join(' '),
)
const point = computed(() =>
  props.sample && isShown(props.sample) ? { x: x.value(props.sample.rpm), y: y(props.sample.throttle) } : null,
)
</script>

<template>
  <div ref="box" class="ruler-stack">
    <svg
      v-if="width > 100"
      ref="svg"
      :width="width"
      :height="height"
      role="img"
      aria-label="Field with the operating point"
    >
      <RpmAxis :grid="grid" :x="x" :top="0" />
      <FieldCells
        v-if="field && cylinder"
        :field="field"
        :cylinder="cylinder"
        :x="x"
        :top="top"
        :height="room"
        :selected="null"
        :dark="display.dark"
      />
      <template v-else>
        <template v-for="load in grid.load" :key="load">
          <text x="50" :y="y(load) + 4" text-anchor="end" class="load">{{ load }} %</text>
          <circle v-for="rpm in grid.rpm" :key="rpm" :cx="x(rpm)" :cy="y(load)" r="1.6" class="dot" />
        </template>
      </template>
    </svg>
    <!-- What moves has a layer of its own, or the whole field would be painted anew at each showing. -->
    <svg v-if="width > 100" class="moving" :width="width" :height="height" aria-hidden="true">
      <polyline :points="trail" class="trail" />
      <circle v-if="point" :cx="point.x" :cy="point.y" r="8" class="point" />
    </svg>
  </div>
</template>

<style scoped>
.moving {
  position: absolute;
  left: 0;
  top: 0;
  will-change: transform;
  pointer-events: none;
}
.load {
  fill: var(--soft);
  font: 12px var(--figures);
}
.dot {
  fill: var(--line-strong);
}
.trail {
  fill: none;
  stroke: var(--yuzu);
  stroke-width: 3;
  stroke-linejoin: round;
  opacity: 0.55;
  pointer-events: none;
}
.point {
  fill: var(--yuzu);
  stroke: var(--ink);
  stroke-width: 2;
  pointer-events: none;
}
</style>
