<script setup lang="ts">
import { computed } from 'vue'
import {
  LOAD_UNITS,
  jobTarget,
  rulerRpm,
  stopName,
  sweepOf,
  targetOn,
  type LoadGrid,
  type Overlay,
  type Quantity,
  type RunInfo,
  type Stop,
} from '@yuzumix/core'
import { actOf } from '@/parts/keys/keymap'
import CurvePanel, { type CurveBand, type CurveLine } from '@/parts/chart/CurvePanel.vue'
import HeldStrip from '@/parts/chart/HeldStrip.vue'
import RpmAxis from '@/parts/chart/RpmAxis.vue'
import { useHandling } from '@/job/handling'
import { pinSpans } from '@/parts/pins/pinSpans'
import RulerStack from '@/parts/chart/RulerStack.vue'
import type { RulerSpan } from '@/parts/chart/RulerSpans.vue'
import { useRulerStack } from '@/parts/chart/useRulerStack'
import { grouped, plain } from '@/parts/numbers/format'
import { panelsIn } from './panelsIn'
import { useDisplay } from '@/stores/display'
import { useJob } from '@/job/openJob'
import type { HeldSpan } from '@/workers/runs.worker'

const props = defineProps<{
  stops: Stop<RunInfo>[]
  overlays: (Overlay | null)[]
  /** null while it is not known */
  held: HeldSpan[] | null
  grid: LoadGrid
  front: string
  /** correction and smoothing, as printed; and rig and gear */
  printed: string
  rigged: string
}>()
const emit = defineEmits<{ run: [step: 1 | -1] }>()
const display = useDisplay()
const handling = useHandling()
const open = useJob()

const AXIS = 24
/** Stops on which a loop holds, as a rule. */
const USUAL_ROWS = 2
const ruler = computed(() => props.overlays.find((one) => one)?.ruler ?? null)
const rpm = computed(() => (ruler.value ? rulerRpm(ruler.value) : []))
const stack = useRulerStack(
  () => props.grid,
  () => rpm.value.at(-1) ?? 0,
)
const { svg, width, height, x, rpmUnder, walk } = stack
defineExpose({ svg })
/** As many rows as were last known: nothing moves while zones are sought. */
const heldRows = computed<number>((before) =>
  props.held ? new Set(props.held.map((one) => Math.round(one.load))).size : (before ?? USUAL_ROWS),
)
const stripHeight = computed(() => Math.min(18 + 15 * Math.max(0, heldRows.value), 78))
const room = computed(() => Math.max(180, height.value - AXIS - stripHeight.value - 8))
/** No run of those that are known tells it; while none is known, nothing moves. */
const isBare = (quantity: Quantity): boolean => {
  const known = props.overlays.filter((one) => one !== null)
  return known.length > 0 && known.every((one) => one.spread[quantity].mean.every((value) => value !== value))
}
const panels = computed(() => panelsIn(room.value, isBare))
const axisTop = computed(() => 2 + panels.value.reduce((sum, one) => sum + one.height, 0))

const isAll = computed(() => props.overlays.length > 1)
const TITLES: Record<Quantity, string> = { torque: 'Torque', power: 'Power', lambda: 'Mixture' }
const scaled = (values: Float32Array, quantity: Quantity): Float32Array => {
  const factor = display.factorOf(quantity)
  return factor === 1 ? values : values.map((value) => value * factor)
}
const look = (one: Overlay, run: string): CurveLine['look'] =>
  sweepOf(run).run === props.front
    ? 'front'
    : one.odd.some((odd) => odd.run === run)
      ? 'odd'
      : one.warmUps.some((warm) => warm.run === run)
        ? 'warm'
        : 'run'

function linesOf(quantity: Quantity): CurveLine[] {
  if (isAll.value)
    return props.overlays.flatMap((one, k): CurveLine[] =>
      one
        ? [
            {
              key: String(props.stops[k]!.stop),
              values: scaled(one.spread[quantity].mean, quantity),
              look: 'quiet',
              ...(quantity === 'torque' && { label: stopName(props.stops[k]!.stop) }),
            },
          ]
        : [],
    )
  const [one] = props.overlays
  if (!one) return []
  const runs = one.curves.map((curve, k): CurveLine => ({
    key: curve.run,
    values: scaled(one.values[quantity][k]!, quantity),
    look: look(one, curve.run),
  }))
  const front = runs.filter((line) => line.look === 'front')
  return [
    ...runs.filter((line) => line.look !== 'front'),
    ...(quantity === 'lambda' ? cylinderLines(one) : []),
    { key: 'mean', values: scaled(one.spread[quantity].mean, quantity), look: 'mean' },
    ...(quantity === 'lambda' ? [{ key: 'target', values: target.value, look: 'target' } as CurveLine] : []),
    ...front,
  ]
}
/** Each cylinder of the run in front, else of their mean: the average hides how far they lie apart. */
function cylinderLines(one: Overlay): CurveLine[] {
  const curve = one.curves.find((each) => sweepOf(each.run).run === props.front)
  const cylinders = curve?.lambda ?? one.cylinders
  if (cylinders.length < 2) return []
  return cylinders.map((values, c) => ({
    key: `cylinder ${c}`,
    values: scaled(values, 'lambda'),
    look: 'quiet',
    label: `cyl ${c + 1}`,
  }))
}
/** What is to be known of the mixture's lines. */
const mixtureNote = computed(() => {
  const apart = isAll.value ? 0 : (props.overlays[0]?.apartPct ?? 0)
  return `${apart >= 2 ? `cylinders up to ${plain(apart, 1)} % apart · ` : ''}${isAll.value ? '' : 'dashed: target'}`
})
const target = computed(() => {
  const stop = props.stops[0]?.stop ?? 100
  const row = targetOn({ rpm: rpm.value, load: [stop] }, props.grid.loadAxis, jobTarget(open.job!))[0]!
  return row.map((value) => value * display.factorOf('lambda'))
})
function bandsOf(quantity: Quantity): CurveBand[] {
  const [one] = props.overlays
  if (isAll.value || !one) return []
  const { low, high } = one.spread[quantity]
  return [{ key: 'spread', low: scaled(low, quantity), high: scaled(high, quantity), look: 'spread' }]
}

const spans = computed<RulerSpan[]>(() => {
  if (isAll.value) return []
  const odd = (props.overlays[0]?.odd ?? []).map((one) =>
    span(
      `${one.run} ${one.fromRpm}`,
      one.fromRpm,
      one.toRpm,
      'attention',
      one.misfire ? 'odd run, misfire?' : 'odd run',
    ),
  )
  const left = (props.stops[0]?.runs ?? []).flatMap(({ id, leftOut }) =>
    leftOut && leftOut.fromRpm !== null && id === props.front
      ? [span(`left ${id}`, leftOut.fromRpm, leftOut.toRpm!, 'quiet', 'left out')]
      : [],
  )
  return [
    ...pinSpans(
      handling.complaints,
      x.value.domain()[1]!,
      props.stops.flatMap((one) => one.stop ?? []),
    ),
    ...odd,
    ...left,
  ]
})
function span(key: string, from: number, to: number, look: RulerSpan['look'], what: string): RulerSpan {
  return { key, from, to, look, text: `${what} ${grouped(from)} to ${grouped(to)}` }
}

/** Mean figures under the hairline. */
const under = computed(() => {
  const [one] = props.overlays
  if (rpmUnder.value === null || !one || isAll.value) return ''
  const bin = Math.round((rpmUnder.value - one.ruler.first) / one.ruler.step)
  const at = (quantity: Quantity): string => {
    const value = one.spread[quantity].mean[bin]
    return value !== undefined && value === value
      ? `${display.figure(quantity, value)} ${display.unitOf(quantity)}`
      : ''
  }
  return (['torque', 'power', 'lambda'] as const).map(at).filter(Boolean).join(' · ')
})
function onKey(event: KeyboardEvent): void {
  if (actOf('curves', event) === 'run') emit('run', event.key === ']' ? 1 : -1)
  else walk(event)
}
</script>

<template>
  <RulerStack
    :stack="stack"
    :label="`Runs laid over each other. Left and right move the hairline, square brackets go from run to run. ${under}`"
    :spans="spans"
    :spans-to="axisTop"
    :names-at="axisTop - 6"
    :under="under"
    @key="onKey"
  >
    <CurvePanel
      v-for="panel in panels"
      :key="panel.quantity"
      :title="`${TITLES[panel.quantity]}, ${display.unitOf(panel.quantity)}`"
      :note="{ torque: printed, power: rigged, lambda: mixtureNote }[panel.quantity]"
      :rpm="rpm"
      :lines="linesOf(panel.quantity)"
      :bands="bandsOf(panel.quantity)"
      :x="x"
      :width="width"
      :top="panel.top"
      :height="panel.height"
      :tick-text="(value, decimals) => plain(value, Math.max(decimals, panel.quantity === 'lambda' ? 2 : 0))"
      :from-zero="panel.quantity === 'power'"
      :empty="panel.quantity === 'lambda' ? 'no mixture in these runs' : 'no torque, power or drum in these runs'"
    />
    <RpmAxis :grid="grid" :x="x" :top="axisTop" />
    <HeldStrip
      :zones="held"
      :unit="LOAD_UNITS[grid.loadAxis]"
      :x="x"
      :width="width"
      :top="axisTop + AXIS"
      :height="stripHeight"
    />
  </RulerStack>
</template>
