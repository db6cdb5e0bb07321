<script setup lang="ts">
import { area, extent, line, precisionFixed, scaleLinear } from 'd3'
import { computed } from 'vue'
import { RULER_MARGIN, type RulerScale } from './rulerScale'

/** A line on the ruler; NaN or null where it says nothing. */
export interface CurveLine {
  key: string
  values: ArrayLike<number | null>
  look: 'run' | 'odd' | 'warm' | 'front' | 'mean' | 'before' | 'target' | 'quiet'
  /** written at the line's end */
  label?: string
}
/** A band between two lines. */
export interface CurveBand {
  key: string
  low: ArrayLike<number | null>
  high: ArrayLike<number | null>
  look: 'spread' | 'before' | 'quiet' | 'interval' | 'gain' | 'loss'
}

const props = defineProps<{
  title: string
  /** said at the right end of the title's line */
  note?: string
  rpm: number[]
  lines: CurveLine[]
  bands?: CurveBand[]
  x: RulerScale
  width: number
  top: number
  height: number
  /** how a tick is written; with so many decimals at the least, or two of them would read alike */
  tickText: (value: number, decimals: number) => string
  /** zero belongs to the scale */
  fromZero?: boolean
  /** said where there is no line */
  empty?: string
}>()

const isKnown = (value: number | null | undefined): value is number =>
  value !== null && value !== undefined && value === value
const known = (values: ArrayLike<number | null>): number[] => Array.from(values).filter(isKnown)

const tickCount = computed(() => Math.max(2, Math.floor(props.height / 38)))
const y = computed(() => {
  const all = [
    ...props.lines.flatMap((one) => known(one.values)),
    ...(props.bands ?? []).flatMap((one) => [...known(one.low), ...known(one.high)]),
    ...(props.fromZero ? [0] : []),
  ]
  const [low = 0, high = 1] = extent(all)
  const room = Math.max(1e-6, (high - low) * 0.06)
  return scaleLinear()
    .domain([props.fromZero && low >= 0 ? 0 : low - room, high + room])
    .nice(tickCount.value)
    .range([props.top + props.height - 4, props.top + 20])
})
const tells = (one: CurveLine): boolean => known(one.values).length > 0
/** Without a line there is no scale, either. */
const ticks = computed(() => (props.lines.some(tells) ? y.value.ticks(tickCount.value) : []))
const decimals = computed(() =>
  ticks.value.length > 1 ? precisionFixed(Math.abs(ticks.value[1]! - ticks.value[0]!)) : 0,
)
const hasLines = computed(() => props.lines.some((one) => one.look !== 'target' && tells(one)))

type Row = { k: number; value: number }
const rows = (values: ArrayLike<number | null>): (Row | null)[] =>
  props.rpm.map((_, k) => (isKnown(values[k]) ? { k, value: values[k] } : null))
const pathOf = (values: ArrayLike<number | null>): string =>
  line<Row | null>()
    .defined((row) => row !== null)
    .x((row) => props.x(props.rpm[row!.k]!))
    .y((row) => y.value(row!.value))(rows(values)) ?? ''
const areaOf = ({ low, high }: CurveBand): string =>
  area<number>()
    .defined((k) => isKnown(low[k]) && isKnown(high[k]))
    .x((k) => props.x(props.rpm[k]!))
    .y0((k) => y.value(low[k]!))
    .y1((k) => y.value(high[k]!))(props.rpm.map((_, k) => k)) ?? ''

const LABEL_WIDTH = 6.8
const right = computed(() => props.width - RULER_MARGIN.right)
/** Labels at the right ends of their lines, moved apart so that they do not touch. */
const labels = computed(() => {
  const placed = props.lines
    .flatMap((one) => {
      if (!one.label) return []
      const last = rows(one.values).findLast((row) => row !== null)
      if (!last) return []
      // Where a name would run over the edge it stands above the line's end.
      const end = props.x(props.rpm[last.k]!) + 4
      const fits = end + LABEL_WIDTH * one.label.length < props.width
      return [
        { key: one.key, text: one.label, fits, x: fits ? end : right.value, y: y.value(last.value) - (fits ? 0 : 7) },
      ]
    })
    .sort((a, b) => a.y - b.y)
  placed.forEach((one, k) => {
    if (k > 0) one.y = Math.max(one.y, placed[k - 1]!.y + 12)
  })
  return placed
})
/** px from which title and note have room on one line. */
const NOTED = 480
</script>

<template>
  <g class="panel">
    <g v-for="tick in ticks" :key="tick">
      <line :x1="RULER_MARGIN.left" :x2="right" :y1="y(tick)" :y2="y(tick)" class="grid" />
      <text :x="RULER_MARGIN.left - 8" :y="y(tick) + 4" text-anchor="end" class="tick">{{
        tickText(tick, decimals)
      }}</text>
    </g>
    <path v-for="band in bands" :key="band.key" :d="areaOf(band)" class="band" :class="band.look" />
    <path v-for="one in lines" :key="one.key" :d="pathOf(one.values)" class="line" :class="one.look" />
    <text
      v-for="label in labels"
      :key="label.key"
      :x="label.x"
      :y="label.y + 4"
      :text-anchor="label.fits ? 'start' : 'end'"
      class="end"
      >{{ label.text }}</text
    >
    <text :x="RULER_MARGIN.left + 4" :y="top + 13" class="title">{{ title }}</text>
    <text v-if="note && width >= NOTED" :x="right" :y="top + 13" text-anchor="end" class="note">{{ note }}</text>
    <text
      v-if="!hasLines"
      :x="(RULER_MARGIN.left + right) / 2"
      :y="Math.max(top + 30, top + height / 2)"
      text-anchor="middle"
      class="note"
    >
      {{ empty ?? 'Nothing here yet' }}
    </text>
  </g>
</template>

<style scoped>
.grid {
  stroke: var(--line);
}
.tick,
.end {
  font: 12px var(--figures);
  fill: var(--soft);
}
.end {
  font-size: 11.5px;
  paint-order: stroke;
  stroke: var(--panel);
  stroke-width: 3px;
}
.title {
  font-size: 12px;
  font-weight: 700;
  fill: var(--ink);
}
.note {
  font-size: 12px;
  fill: var(--soft);
}
.line {
  fill: none;
  stroke: var(--line-strong);
  stroke-width: 1;
}
.line.mean {
  stroke: var(--leaf);
  stroke-width: 2.5;
}
.line.before {
  stroke: var(--ink);
  stroke-width: 2;
  stroke-dasharray: 7 3;
}
.line.target {
  stroke: var(--ink);
  stroke-width: 1.5;
  stroke-dasharray: 6 4;
}
.line.odd {
  stroke: var(--lean);
  stroke-width: 1.5;
  stroke-dasharray: 2 2;
}
.line.warm {
  stroke: var(--soft);
  stroke-dasharray: 1 3;
  stroke-width: 1.5;
}
.line.front {
  stroke: var(--yuzu);
  stroke-width: 2.5;
}
.line.quiet {
  stroke: var(--leaf);
  stroke-width: 1.5;
}
.band {
  fill: var(--leaf);
  opacity: 0.14;
}
.band.quiet {
  opacity: 0.07;
}
.band.before {
  fill: var(--ink);
  opacity: 0.08;
}
.band.interval {
  fill: var(--soft);
  opacity: 0.14;
}
.band.gain {
  opacity: 0.5;
}
.band.loss {
  fill: var(--rich);
  opacity: 0.5;
}
</style>
