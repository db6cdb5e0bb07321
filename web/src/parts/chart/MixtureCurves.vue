<script setup lang="ts">
import { area, extent, line, scaleLinear } from 'd3'
import { computed } from 'vue'
import type { CylinderField, Field, RunTrace } from '@yuzumix/core'
import { useDisplay } from '@/stores/display'
import { RULER_MARGIN, type RulerScale } from './rulerScale'

const props = defineProps<{
  field: Field
  cylinder: CylinderField
  traces: RunTrace[]
  row: number
  x: RulerScale
  width: number
  height: number
  /** run drawn in front */
  highlighted: string
}>()
const display = useDisplay()

interface Point {
  rpm: number
  lambda: number
  low: number
  high: number
}
const points = computed<(Point | null)[]>(() =>
  props.field.grid.rpm.map((rpm, k) => {
    const lambda = props.cylinder.lambda[props.row]?.[k]
    if (lambda === null || lambda === undefined) return null
    const target = props.cylinder.target[props.row]![k]!
    const { lowPct, highPct } = props.cylinder
    const at = (pct: number | null | undefined): number =>
      pct === null || pct === undefined ? lambda : target * (1 + pct / 100)
    return { rpm, lambda, low: at(lowPct[props.row]![k]), high: at(highPct[props.row]![k]) }
  }),
)
const target = computed(() =>
  props.field.grid.rpm.map((rpm, k) => ({ rpm, lambda: props.cylinder.target[props.row]![k]! })),
)

const y = computed(() => {
  const values = [
    ...points.value.flatMap((p) => (p ? [p.low, p.high] : [])),
    ...target.value.map((p) => p.lambda),
    ...props.traces.flatMap((t) => t.lambda),
  ]
  const [low = 0.8, high = 1] = extent(values)
  const room = Math.max(0.02, (high - low) * 0.06)
  return scaleLinear()
    .domain([Math.max(0.5, low - room), Math.min(1.6, high + room)])
    .nice(5)
    .range([props.height - 6, 20])
})
const ticks = computed(() => y.value.ticks(5))
const curve = computed(
  () =>
    line<Point | null>()
      .defined((p) => p !== null)
      .x((p) => props.x(p!.rpm))
      .y((p) => y.value(p!.lambda))(points.value) ?? '',
)
const band = computed(
  () =>
    area<Point | null>()
      .defined((p) => p !== null)
      .x((p) => props.x(p!.rpm))
      .y0((p) => y.value(p!.low))
      .y1((p) => y.value(p!.high))(points.value) ?? '',
)
const targetLine = computed(
  () =>
    line<{ rpm: number; lambda: number }>()
      .x((p) => props.x(p.rpm))
      .y((p) => y.value(p.lambda))(target.value) ?? '',
)
const odd = computed(() => new Set(props.field.runs.filter((run) => run.odd).map((run) => run.id)))
const runLines = computed(() =>
  props.traces.map((trace) => ({
    id: trace.id,
    d:
      line<number>()
        .x((_, k) => props.x(trace.rpm[k]!))
        .y((lambda) => y.value(lambda))(trace.lambda) ?? '',
    odd: odd.value.has(trace.id),
  })),
)
const stop = computed(
  () => `${props.field.grid.load[props.row]} ${props.field.grid.loadAxis === 'throttle' ? '% throttle' : 'kPa'}`,
)
/** The keys stand right of the title, and nearer to it where the chart is narrow. */
const KEYS = { at: 246, width: 384 }
const keysAt = computed(() => Math.min(KEYS.at, props.width - RULER_MARGIN.left - KEYS.width))
/** px from which the keys of the lines have room beside the title. */
const KEYED = 560
</script>

<template>
  <g class="curves">
    <g v-for="tick in ticks" :key="tick">
      <line :x1="RULER_MARGIN.left" :x2="width - RULER_MARGIN.right" :y1="y(tick)" :y2="y(tick)" class="grid" />
      <text :x="RULER_MARGIN.left - 8" :y="y(tick) + 4" text-anchor="end" class="tick">{{
        display.mixture(tick)
      }}</text>
    </g>
    <path :d="band" class="band" />
    <path
      v-for="run in runLines"
      :key="run.id"
      :d="run.d"
      class="run"
      :class="{ odd: run.odd, front: run.id === highlighted }"
    />
    <path :d="targetLine" class="target" />
    <path :d="curve" class="estimate" />
    <template v-for="point in points">
      <circle v-if="point" :key="point.rpm" :cx="x(point.rpm)" :cy="y(point.lambda)" r="2.5" class="knot" />
    </template>
    <g :transform="`translate(${RULER_MARGIN.left + 4}, 13)`" class="legend">
      <text>Mixture, {{ display.mixtureUnit }}, at {{ stop }}</text>
      <g v-if="width >= KEYED" :transform="`translate(${keysAt}, 0)`">
        <line x1="0" x2="22" y1="-4" y2="-4" class="estimate" /><text x="28">field, 90 % band</text>
        <line x1="146" x2="168" y1="-4" y2="-4" class="target" /><text x="174">target</text>
        <line x1="228" x2="250" y1="-4" y2="-4" class="run" /><text x="256">runs</text>
        <line x1="298" x2="320" y1="-4" y2="-4" class="run odd" /><text x="326">odd run</text>
      </g>
    </g>
  </g>
</template>

<style scoped>
.grid {
  stroke: var(--line);
}
.tick {
  font: 12px var(--figures);
  fill: var(--soft);
}
.legend text {
  font-size: 12px;
  fill: var(--soft);
}
.band {
  fill: var(--leaf);
  opacity: 0.14;
}
.estimate {
  fill: none;
  stroke: var(--leaf);
  stroke-width: 2.5;
}
.knot {
  fill: var(--leaf);
}
.target {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.5;
  stroke-dasharray: 6 4;
}
.run {
  fill: none;
  stroke: var(--line-strong);
  stroke-width: 1;
}
.run.odd {
  stroke: var(--lean);
  stroke-width: 1.5;
  stroke-dasharray: 2 2;
}
.run.front {
  stroke: var(--yuzu);
  stroke-width: 2.5;
}
</style>
