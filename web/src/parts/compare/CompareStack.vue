<script setup lang="ts">
import { computed } from 'vue'
import { rulerRpm, type LoadGrid, type Quantity, type ComparedAnswer } from '@yuzumix/core'
import CurvePanel, { type CurveBand, type CurveLine } from '@/parts/chart/CurvePanel.vue'
import RpmAxis from '@/parts/chart/RpmAxis.vue'
import { useHandling } from '@/job/handling'
import { pinSpans } from '@/parts/pins/pinSpans'
import RulerStack from '@/parts/chart/RulerStack.vue'
import type { RulerSpan } from '@/parts/chart/RulerSpans.vue'
import { useRulerStack } from '@/parts/chart/useRulerStack'
import { plain, signed } from '@/parts/numbers/format'
import { useDisplay } from '@/stores/display'

const props = defineProps<{
  compared: ComparedAnswer
  /** further sets against the same first: lines only */
  others: ComparedAnswer[]
  grid: LoadGrid
  /** that the sweeps were made at, %; left out where it is not one */
  stop?: number | null
}>()
const display = useDisplay()
const handling = useHandling()

const AXIS = 24
const rpm = computed(() => rulerRpm(props.compared.ruler))
const stack = useRulerStack(
  () => props.grid,
  () => rpm.value.at(-1) ?? 0,
)
const { svg, width, height, x, rpmUnder } = stack
defineExpose({ svg })
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
const bands = computed<CurveBand[]>(() => [
  ...props.others.flatMap((one): CurveBand[] => {
    const { spread } = one.second
    return spread
      ? [{ key: one.second.name, low: onRuler(one, spread.low), high: onRuler(one, spread.high), look: 'quiet' }]
      : []
  }),
  ...(['first', 'second'] as const).flatMap((side): CurveBand[] => {
    const { spread } = props.compared[side]
    if (!spread) return []
    return [
      {
        key: side,
        low: scaled(spread.low),
        high: scaled(spread.high),
        look: side === 'first' ? 'before' : 'spread',
      },
    ]
  }),
])
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
const spans = computed<RulerSpan[]>(() => [
  ...pinSpans(handling.complaints, x.value.domain()[1]!, props.stop == null ? [] : [props.stop]),
  ...holes.value,
  ...misfires.value,
])
const misfires = computed<RulerSpan[]>(() =>
  (['first', 'second'] as const).flatMap((side) =>
    props.compared[side].misfires.map(({ fromRpm, toRpm }, k): RulerSpan => ({
      key: `${side} misfire ${fromRpm} ${k}`,
      from: fromRpm,
      to: toRpm,
      look: 'attention',
      text: `${side}: misfire, left out`,
    })),
  ),
)
const holes = computed<RulerSpan[]>(() =>
  (['first', 'second'] as const).flatMap((side) =>
    props.compared[side].holes.map((hole): RulerSpan => ({
      key: `${side} ${hole.fromRpm}`,
      from: hole.fromRpm,
      to: hole.toRpm,
      look: 'attention',
      text: `${side}: hole, ${hole.verdict}`,
    })),
  ),
)

const under = computed(() => {
  if (rpmUnder.value === null) return ''
  const { ruler, comparison, quantity } = props.compared
  const bin = Math.round((rpmUnder.value - ruler.first) / ruler.step)
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
  <RulerStack
    :stack="stack"
    :label="`Comparison. Left and right move the hairline. ${under}`"
    :spans="spans"
    :spans-to="upper"
    :names-at="upper - 6"
    :under="under"
    @key="stack.walk($event)"
  >
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
      :tick-text="(value, decimals) => plain(value, Math.max(decimals, compared.quantity === 'lambda' ? 2 : 0))"
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
      :tick-text="(value, decimals) => signed(value, Math.max(decimals, compared.quantity === 'lambda' ? 2 : 1))"
    />
  </RulerStack>
</template>
