<script setup lang="ts">
import { area, extent, line, scaleLinear } from 'd3'
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import { NINETY, zoneDepartures, type CircuitTarget, type OpeningRow, type Predicted } from '@yuzumix/core'
import { signed } from '@/parts/numbers/format'
import { useDisplay } from '@/stores/display'
import type { JettingPresent } from '@yuzumix/core'
import { circuitAreas } from './circuitAreas'

/** The ruler's sister: throttle opening up the side, mixture across, each circuit's share beside it. */
const props = defineProps<{
  targets: CircuitTarget[]
  /** read with what is fitted now, and with what was before */
  rows: OpeningRow[]
  before: OpeningRow[]
  model: JettingPresent | null
  /** what a proposal, or the present fitting when it was proposed, was to give */
  predicted: Predicted[]
  axisName: string
  /** manifold pressure in units of 100 kPa above which the spring lets the rods rise; null where there are none */
  rodsRise: number | null
}>()
const display = useDisplay()
const box = ref<HTMLElement>()
const { width, height } = useElementSize(box)
const LEFT = 132
const TOP = 34
const BOTTOM = 26
const SHARES = 150

/** What was predicted where something is read: beyond it nobody knows. */
const reached = computed(() => {
  const read = props.model?.predicted ?? []
  const [low, high] = [read[0]?.opening ?? 0, read.at(-1)?.opening ?? 1]
  return props.predicted.filter(({ opening }) => opening >= low && opening <= high)
})
/** On a phone the mixture takes all the room there is. */
const hasShares = computed(() => width.value >= 520)
const right = computed(() => (hasShares.value ? Math.max(LEFT + 120, width.value - SHARES - 36) : width.value - 16))
const y = computed(() => scaleLinear([0, 1], [height.value - BOTTOM, TOP]))
const x = computed(() => {
  const all = [
    ...props.targets.map((one) => one.lambda),
    ...props.rows.flatMap((row) => [row.leanest, row.richest]),
    ...props.before.map((row) => row.lambda),
    ...reached.value.map((one) => one.lambda),
    ...(props.model?.predicted ?? []).map((one) => one.lambda),
  ].filter((value) => value > 0.5 && value < 1.6)
  const [low = 0.8, high = 1] = extent(all)
  return scaleLinear([low - 0.02, high + 0.02], [LEFT, right.value]).nice(5)
})
const verdicts = computed(() => zoneDepartures(props.rows, props.targets))
const shareX = computed(() => scaleLinear([0, 1], [right.value + 28, right.value + 28 + SHARES - 8]))
/** px that a figure of the axis takes */
const TICK = 56
const ticks = computed(() => x.value.ticks(Math.min(5, Math.max(2, Math.floor((right.value - LEFT) / TICK)))))
const clampX = (lambda: number): number => Math.min(right.value, Math.max(LEFT, x.value(lambda)))
const path = (points: readonly Predicted[]): string =>
  line<Predicted>()
    .x((one) => clampX(one.lambda))
    .y((one) => y.value(one.opening))([...points]) ?? ''
const band = (points: readonly Predicted[]): string =>
  area<Predicted>()
    .x0((one) => clampX(one.low))
    .x1((one) => clampX(one.high))
    .y((one) => y.value(one.opening))([...points]) ?? ''
const shares = computed(() => circuitAreas(props.model?.shares ?? [], shareX.value, y.value))
</script>

<template>
  <div ref="box" class="chart">
    <svg v-if="width > 200" :width="width" :height="height" role="img" aria-label="Mixture by throttle opening">
      <text :x="LEFT" y="14" class="title">Mixture, {{ display.mixtureUnit }}, by {{ axisName }}</text>
      <text v-if="hasShares" :x="right" y="14" text-anchor="end" class="soft">lean →</text>
      <text v-if="hasShares" :x="right + 28" y="14" class="title">Share of each circuit</text>
      <g v-for="tick in ticks" :key="tick">
        <line :x1="x(tick)" :x2="x(tick)" :y1="TOP" :y2="height - BOTTOM" class="grid" />
        <text :x="x(tick)" :y="height - 8" text-anchor="middle" class="figure">{{ display.mixture(tick) }}</text>
      </g>
      <g v-for="(zone, k) in targets" :key="zone.id">
        <line :x1="8" :x2="right" :y1="y(zone.from)" :y2="y(zone.from)" class="grid" />
        <text x="8" :y="(y(zone.from) + y(Math.min(1, zone.to))) / 2 + 4" class="zone">{{ zone.name }}</text>
        <text
          v-if="verdicts[k]!.pct !== null && y(zone.from) - y(Math.min(1, zone.to)) > 44"
          x="8"
          :y="(y(zone.from) + y(Math.min(1, zone.to))) / 2 + 20"
          class="figure"
          :data-verdict="verdicts[k]!.verdict"
        >
          {{ signed(verdicts[k]!.pct!) }} % {{ verdicts[k]!.verdict }}
        </text>
        <text
          v-if="verdicts[k]!.against !== null && y(zone.from) - y(Math.min(1, zone.to)) > 60"
          x="8"
          :y="(y(zone.from) + y(Math.min(1, zone.to))) / 2 + 36"
          class="figure"
          :data-verdict="verdicts[k]!.against! > 0 ? 'lean' : 'rich'"
        >
          {{ signed(verdicts[k]!.against!) }} % {{ verdicts[k]!.against! > 0 ? 'lean' : 'rich' }}
        </text>
        <line
          :x1="x(zone.lambda)"
          :x2="x(zone.lambda)"
          :y1="y(zone.from)"
          :y2="y(Math.min(1, zone.to))"
          class="target"
        />
      </g>
      <text
        v-for="opening in [0.05, 0.2, 0.4, 0.6, 0.8, 1]"
        :key="opening"
        :x="LEFT - 8"
        :y="y(opening) + 4"
        text-anchor="end"
        class="figure"
      >
        {{ Math.round(100 * opening) }}{{ axisName === 'throttle' ? ' %' : '' }}
      </text>
      <template v-if="model">
        <path :d="band(model.predicted)" class="interval" />
        <path :d="path(model.predicted)" class="model" />
        <template v-if="hasShares">
          <path v-for="part in shares" :key="part.id" :d="part.path" :class="part.id" />
          <text :x="shareX(0.03)" :y="y(0.03)" class="share">pilot</text>
          <text :x="shareX(0.5)" :y="y(0.34)" text-anchor="middle" class="share">needle</text>
          <text :x="shareX(0.97)" :y="y(0.93)" text-anchor="end" class="share">main</text>
        </template>
      </template>
      <path v-if="reached.length" :d="band(reached)" class="doubt" />
      <template v-if="rodsRise !== null">
        <line :x1="LEFT" :x2="right" :y1="y(rodsRise)" :y2="y(rodsRise)" class="rods" />
        <text :x="right - 4" :y="y(rodsRise) - 4" text-anchor="end" class="zone">rods rise above here</text>
      </template>
      <path v-if="reached.length" :d="path(reached)" class="predicted" />
      <circle
        v-for="row in before"
        :key="`b${row.opening}`"
        :cx="clampX(row.lambda)"
        :cy="y(row.opening)"
        r="4"
        class="before"
      />
      <g v-for="row in rows" :key="row.opening">
        <line
          :x1="clampX(row.lambda * (1 - NINETY * row.error))"
          :x2="clampX(row.lambda * (1 + NINETY * row.error))"
          :y1="y(row.opening)"
          :y2="y(row.opening)"
          class="whisker"
        />
        <circle :cx="clampX(row.lambda)" :cy="y(row.opening)" r="5" class="read" />
      </g>
    </svg>
  </div>
</template>

<style scoped src="@/parts/chart/chart.css"></style>

<style scoped>
.chart {
  min-height: 240px;
}
text {
  font-family: inherit;
}
.zone {
  fill: var(--ink);
}
.figure {
  font-family: var(--figures);
}
text[data-verdict='lean'] {
  fill: var(--lean);
}
text[data-verdict='rich'] {
  fill: var(--rich);
}
.target {
  stroke: var(--ink);
  stroke-width: 2;
  stroke-dasharray: 5 4;
}
.interval {
  fill: var(--leaf);
  opacity: 0.14;
}
.model {
  fill: none;
  stroke: var(--leaf);
  stroke-width: 2;
}
.predicted {
  fill: none;
  stroke: var(--yuzu);
  stroke-width: 3;
  stroke-dasharray: 8 4;
}
.doubt {
  fill: var(--yuzu);
  opacity: 0.18;
}
.rods {
  stroke: var(--soft);
  stroke-dasharray: 2 4;
}
.read {
  fill: var(--leaf);
  stroke: var(--panel);
}
.whisker {
  stroke: var(--leaf);
  stroke-width: 2;
}
.before {
  fill: none;
  stroke: var(--soft);
  stroke-width: 1.5;
}
.pilot {
  fill: var(--line);
}
.needle {
  fill: var(--leaf);
  opacity: 0.35;
}
.main {
  fill: var(--yuzu);
  opacity: 0.45;
}
.share {
  fill: var(--ink);
}
</style>
