<script setup lang="ts">
import { computed } from 'vue'
import type { RoadPowerTold } from '@yuzumix/core'
import CurvePanel, { type CurveLine } from '@/parts/chart/CurvePanel.vue'
import RpmAxis from '@/parts/chart/RpmAxis.vue'
import RulerStack from '@/parts/chart/RulerStack.vue'
import { useRulerStack } from '@/parts/chart/useRulerStack'
import { plain } from '@/parts/numbers/format'
import { useDisplay } from '@/stores/display'

/** Torque and power of the road over engine speed, each with its interval. */
const props = defineProps<{ told: RoadPowerTold }>()
const display = useDisplay()
const AXIS = 24
const rpm = computed(() => props.told.rpm)
const grid = computed(() => ({ rpm: rpm.value, load: [100] }))
const stack = useRulerStack(
  () => grid.value,
  () => rpm.value.at(-1) ?? 0,
)
const { width, height, x, rpmUnder } = stack
const half = computed(() => Math.floor((height.value - AXIS) / 2))
/** Power of a torque, kW. */
const power = (torque: readonly number[]): number[] => torque.map((one, k) => (one * rpm.value[k]! * Math.PI) / 30_000)
const inUnit = (quantity: 'torque' | 'power', values: readonly number[]): number[] =>
  values.map((one) => one * display.factorOf(quantity))
const panels = computed(() =>
  (['torque', 'power'] as const).map((quantity) => {
    const of = (values: readonly number[]): number[] => inUnit(quantity, quantity === 'torque' ? values : power(values))
    const { torque, low, high } = props.told
    return {
      quantity,
      title: `${quantity === 'torque' ? 'Torque' : 'Power'} of the road, ${display.unitOf(quantity)}`,
      lines: [{ key: quantity, values: of(torque), look: 'mean' }] satisfies CurveLine[],
      bands: [{ key: quantity, low: of(low), high: of(high), look: 'spread' as const }],
    }
  }),
)
const under = computed(() => {
  if (rpmUnder.value === null || !rpm.value.length) return ''
  const k = rpm.value.reduce(
    (best, one, n) => (Math.abs(one - rpmUnder.value!) < Math.abs(rpm.value[best]! - rpmUnder.value!) ? n : best),
    0,
  )
  const { torque, low, high } = props.told
  const figure = (value: number): string => display.figure('torque', value)
  return `${figure(torque[k]!)} ${display.unitOf('torque')} (${figure(low[k]!)} to ${figure(high[k]!)})`
})
</script>

<template>
  <RulerStack
    :stack="stack"
    label="Torque and power of the road over engine speed. Left and right move the hairline."
    @key="stack.walk($event)"
    :spans="[]"
    :spans-to="height - AXIS"
    :names-at="14"
    :under="under"
  >
    <CurvePanel
      v-for="(panel, k) in panels"
      :key="panel.quantity"
      :title="panel.title"
      :rpm="rpm"
      :lines="panel.lines"
      :bands="panel.bands"
      :x="x"
      :width="width"
      :top="k * half"
      :height="half"
      :tick-text="(value, decimals) => plain(value, decimals)"
      from-zero
    />
    <RpmAxis :grid="grid" :x="x" :top="height - AXIS" />
  </RulerStack>
</template>
