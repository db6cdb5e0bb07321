<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import { rulerRpm, type LoadGrid, type Quantity } from '@yuzumix/core'
import type { ComparedAnswer } from '@/api/client'
import CurvePanel, { type CurveBand, type CurveLine } from '@/parts/chart/CurvePanel.vue'
import RpmAxis from '@/parts/chart/RpmAxis.vue'
import { RULER_MARGIN, rulerScale } from '@/parts/chart/rulerScale'
import { grouped, plain, signed } from '@/parts/numbers/format'
import { useDisplay } from '@/stores/display'

const props = defineProps<{
  compared: ComparedAnswer
  /** further sets against the same first: lines only */
  others: ComparedAnswer[]
  grid: LoadGrid
}>()
const display = useDisplay()

const box = ref<HTMLElement>()
const svg = ref<SVGSVGElement>()
defineExpose({ svg })
const { width, height } = useElementSize(box)
const AXIS = 24
const rpm = computed(() => rulerRpm(props.compared.ruler))
const x = computed(() => rulerScale(props.grid, width.value, rpm.value.at(-1) ?? 0))
const upper = computed(() => Math.round((height.value - AXIS - 6) * 0.56))
const lower = computed(() => Math.max(60, height.value - AXIS - 8 - upper.value))
const factor = computed(() => display.factorOf(props.compared.quantity))

const NAMES: Record<Quantity, string> = { torque: 'Torque', power: 'Power', lambda: 'Mixture' }
const what = computed(() => `${NAMES[props.compared.quantity]}, ${display.unitOf(props.compared.quantity)}`)
const scaled = (values: (number | null)[]): (number | null)[] =>
  values.map((value) => (value === null ? null : value * factor.value))

const lines = computed<CurveLine[]>(() => [
  { key: 'first', values: scaled(props.compared.comparison.first), look: 'before' },
  ...props.others.map((one): CurveLine => ({
    key: one.second.name,
    values: onRuler(one, one.comparison.second),
    look: 'quiet',
    label: one.second.name,
  })),
  {
    key: 'second',
    values: scaled(props.compared.comparison.second),
    look: 'mean',
    ...(props.others.length > 0 && { label: props.compared.second.name }),
  },
])
/** Another comparison's values at this one's engine speeds. */
function onRuler({ comparison }: ComparedAnswer, values: (number | null)[]): (number | null)[] {
  const at = new Map(comparison.rpm.map((speed, k) => [speed, values[k] ?? null]))
  return scaled(rpm.value.map((speed) => at.get(speed) ?? null))
}
const bands = computed<CurveBand[]>(() =>
  (['first', 'second'] as const).flatMap((side) => {
    const { spread } = props.compared[side]
    if (!spread) return []
    return [
      {
        key: side,
        low: scaled(spread.low),
        high: scaled(spread.high),
        look: side === 'first' ? ('before' as const) : ('spread' as const),
      },
    ]
  }),
)
const differenceLines = computed<CurveLine[]>(() => [
  { key: 'zero', values: rpm.value.map(() => 0), look: 'run' },
  ...props.others.map((one): CurveLine => ({
    key: one.second.name,
    values: onRuler(one, one.comparison.difference),
    look: 'quiet',
  })),
  { key: 'difference', values: scaled(props.compared.comparison.difference), look: 'mean' },
])
/** The interval everywhere; from zero to the line only where the difference is real. */
const differenceBands = computed<CurveBand[]>(() => {
  const { low, high, difference, real } = props.compared.comparison
  const where = (up: boolean): Pick<CurveBand, 'low' | 'high'> => {
    const shown = difference.map((value, k) => (real[k] && value !== null && value > 0 === up ? value : null))
    return { low: shown.map((value) => (value === null ? null : 0)), high: scaled(shown) }
  }
  return [
    { key: 'interval', low: scaled(low), high: scaled(high), look: 'interval' },
    { key: 'gain', ...where(true), look: 'gain' },
    { key: 'loss', ...where(false), look: 'loss' },
  ]
})
const holes = computed(() =>
  (['first', 'second'] as const).flatMap((side) =>
    props.compared[side].holes.map((hole) => ({ ...hole, key: `${side} ${hole.fromRpm}`, side })),
  ),
)

const pointer = ref<number | null>(null)
function follow(event: PointerEvent): void {
  const at = event.clientX - box.value!.getBoundingClientRect().left
  pointer.value = at >= RULER_MARGIN.left && at <= width.value - RULER_MARGIN.right ? at : null
}
const STEP = 100
function move(event: KeyboardEvent): void {
  if (event.altKey || event.ctrlKey || (event.key !== 'ArrowLeft' && event.key !== 'ArrowRight')) return
  event.preventDefault()
  const now = pointer.value === null ? (rpm.value[0] ?? 0) : x.value.invert(pointer.value)
  const next = Math.round(now / STEP) * STEP + (event.key === 'ArrowRight' ? STEP : -STEP)
  const [low, high] = x.value.domain() as [number, number]
  pointer.value = x.value(Math.min(high, Math.max(low, next)))
}
const under = computed(() => {
  if (pointer.value === null) return ''
  const { ruler, comparison, quantity } = props.compared
  const bin = Math.round((x.value.invert(pointer.value) - ruler.first) / ruler.step)
  const [a, b, d] = [comparison.first[bin], comparison.second[bin], comparison.difference[bin]]
  if (a === null || a === undefined || b === null || b === undefined || d === null || d === undefined) return ''
  const interval =
    comparison.low[bin] === null || comparison.low[bin] === undefined
      ? ''
      : ` (${display.difference(quantity, comparison.low[bin])} to ${display.difference(quantity, comparison.high[bin]!)})`
  return `${display.figure(quantity, a)} → ${display.figure(quantity, b)}: ${display.difference(quantity, d)}${interval}${comparison.real[bin] ? ', real' : ', not told apart'}`
})
</script>

<template>
  <div
    ref="box"
    class="stack"
    tabindex="0"
    role="application"
    :aria-label="`Comparison. Left and right move the hairline. ${under}`"
    @keydown="move"
    @pointermove="follow"
    @pointerleave="pointer = null"
  >
    <svg v-if="width > 100" ref="svg" :width="width" :height="height" aria-hidden="true">
      <g v-for="hole in holes" :key="hole.key">
        <rect
          :x="x(hole.fromRpm)"
          :width="Math.max(2, x(hole.toRpm) - x(hole.fromRpm))"
          y="18"
          :height="upper - 18"
          class="hole"
        />
        <text :x="x(hole.fromRpm) + 4" :y="upper - (hole.side === 'first' ? 20 : 6)" class="hole-text">
          {{ hole.side }}: hole, {{ hole.verdict }}
        </text>
      </g>
      <CurvePanel
        :title="what"
        :note="`dashed: ${compared.first.name} · line: ${compared.second.name}`"
        :rpm="rpm"
        :lines="lines"
        :bands="bands"
        :x="x"
        :width="width"
        :top="2"
        :height="upper"
        :tick-text="(value) => plain(value, compared.quantity === 'lambda' ? 2 : 0)"
      />
      <RpmAxis :grid="grid" :x="x" :top="upper" />
      <CurvePanel
        :title="`Difference, ${display.unitOf(compared.quantity)}`"
        note="grey: 90 % interval over runs · shaded only where real"
        :rpm="rpm"
        :lines="differenceLines"
        :bands="differenceBands"
        :x="x"
        :width="width"
        :top="upper + AXIS"
        :height="lower"
        :tick-text="(value) => signed(value, compared.quantity === 'lambda' ? 2 : 1)"
      />
      <g v-if="pointer !== null" class="hairline">
        <line :x1="pointer" :x2="pointer" y1="18" :y2="height" />
        <text :x="pointer + (pointer > width / 2 ? -6 : 6)" y="30" :text-anchor="pointer > width / 2 ? 'end' : 'start'">
          {{ grouped(x.invert(pointer)) }} rpm {{ under && `· ${under}` }}
        </text>
      </g>
    </svg>
  </div>
</template>

<style scoped>
.stack {
  position: relative;
  flex: 1;
  min-height: 0;
  overflow: hidden;
  background: var(--panel);
  border: 1px solid var(--line);
  border-radius: 6px;
}
svg {
  display: block;
  position: absolute;
}
.hairline line {
  stroke: var(--ink);
  opacity: 0.5;
}
.hairline text {
  font: 12px var(--figures);
  fill: var(--ink);
  paint-order: stroke;
  stroke: var(--panel);
  stroke-width: 4px;
}
.hole {
  fill: var(--yuzu);
  opacity: 0.16;
}
.hole-text {
  font-size: 11px;
  fill: var(--ink);
}
</style>
