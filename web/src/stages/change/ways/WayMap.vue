<script setup lang="ts">
import { computed } from 'vue'
import { LOAD_UNITS, type SparseMatrix, type Wanted } from '@yuzumix/core'
import { grouped, signed } from '@/parts/numbers/format'
import { changeColour, inkOn } from '@/parts/field/changeColour'

/** What a way leaves wrong, cell by cell: small as a thumbnail, large with figures and its own places. */
const props = defineProps<{
  wanted: Wanted
  residual: SparseMatrix
  width: number
  height: number
  /** with figures, axes and places; a mere picture without */
  large?: boolean
  dark: boolean
  /** places or edges of the way on either axis */
  marks?: { rpm: readonly number[]; load: readonly number[] }
}>()
const LEFT = computed(() => (props.large ? 52 : 0))
const BOTTOM = computed(() => (props.large ? 22 : 0))
/** What is left is smaller than what is wanted: colours are full at a third of the change's. */
const LOUDER = 3
const paper = computed(() => (props.dark ? '#34382f' : '#eeece3'))
/** Room at the right for half of the last label. */
const RIGHT = computed(() => (props.large ? 14 : 0))
const wide = computed(() => (props.width - LEFT.value - RIGHT.value) / props.wanted.rpm.length)
const high = computed(() => (props.height - BOTTOM.value) / props.wanted.load.length)
const cells = computed(() =>
  props.residual.flatMap((row, r) =>
    row.map((pct, c) => {
      const colour = pct === null ? 'transparent' : changeColour(LOUDER * pct, paper.value)
      return {
        key: `${r}:${c}`,
        x: LEFT.value + c * wide.value,
        y: props.height - BOTTOM.value - (r + 1) * high.value,
        colour,
        ink: pct === null ? 'var(--soft)' : inkOn(colour),
        text: pct === null ? '·' : signed(pct, wide.value >= 30 && Math.abs(pct) < 9.95 ? 1 : 0),
        title: `${grouped(props.wanted.rpm[c]!)} rpm, ${props.wanted.load[r]} ${unit.value}: ${pct === null ? 'not known' : `left ${signed(pct)} %${Math.abs(pct) < 0.05 ? '' : pct > 0 ? ', lean' : ', rich'}`}`,
      }
    }),
  ),
)
const unit = computed(() => LOAD_UNITS[props.wanted.loadAxis])
/** Where a value of an axis lies: breakpoints stand in the middle of their cell. */
function at(points: readonly number[], value: number): number {
  const k = Math.max(
    0,
    points.findLastIndex((one, i) => one <= value && i < points.length - 1),
  )
  const [from, to] = [points[k]!, points[k + 1]!]
  return k + 0.5 + (value - from) / (to - from)
}
const lines = computed(() => ({
  rpm: (props.marks?.rpm ?? []).map((one) => LEFT.value + at(props.wanted.rpm, one) * wide.value),
  load: (props.marks?.load ?? []).map((one) => props.height - BOTTOM.value - at(props.wanted.load, one) * high.value),
}))
const everyRow = computed(() => Math.max(1, Math.ceil(13 / high.value)))
const everyOther = computed(() => Math.max(1, Math.ceil(44 / wide.value)))
const whole = computed(() => {
  const known = props.residual.flat().filter((one) => one !== null)
  return known.length ? `from ${signed(Math.min(...known))} to ${signed(Math.max(...known))} %` : 'nothing known'
})
</script>

<template>
  <svg
    :width="width"
    :height="height"
    role="img"
    :aria-label="`What stays wrong by cell, ${whole}; orange is lean, purple rich`"
  >
    <g v-for="cell in cells" :key="cell.key">
      <title v-if="large">{{ cell.title }}</title>
      <rect
        :x="cell.x + 0.5"
        :y="cell.y + 0.5"
        :width="Math.max(1, wide - 1)"
        :height="Math.max(1, high - 1)"
        :fill="cell.colour"
      />
      <text
        v-if="large && high >= 15 && wide >= 22"
        :x="cell.x + wide / 2"
        :y="cell.y + high / 2 + 4"
        text-anchor="middle"
        :fill="cell.ink"
        class="figures"
      >
        {{ cell.text }}
      </text>
    </g>
    <template v-if="large">
      <line v-for="x in lines.rpm" :key="`x${x}`" :x1="x" :x2="x" y1="0" :y2="height - BOTTOM" class="place" />
      <line v-for="y in lines.load" :key="`y${y}`" :x1="LEFT" :x2="width - RIGHT" :y1="y" :y2="y" class="place" />
      <template v-for="(load, row) in wanted.load" :key="`l${load}`">
        <text
          v-if="row % everyRow === 0"
          :x="LEFT - 6"
          :y="height - BOTTOM - (row + 0.5) * high + 4"
          text-anchor="end"
          class="axis figures"
        >
          {{ load }} {{ unit }}
        </text>
      </template>
      <template v-for="(rpm, column) in wanted.rpm" :key="`r${rpm}`">
        <text
          v-if="column % everyOther === 0"
          :x="LEFT + (column + 0.5) * wide"
          :y="height - 6"
          text-anchor="middle"
          class="axis figures"
        >
          {{ grouped(rpm) }}
        </text>
      </template>
    </template>
  </svg>
</template>

<style scoped>
svg {
  display: block;
}
text {
  font-size: 11.5px;
  letter-spacing: -0.04em;
}
.axis {
  fill: var(--soft);
}
.place {
  stroke: var(--leaf);
  stroke-width: 1.5;
  stroke-dasharray: 4 3;
  pointer-events: none;
}
</style>
