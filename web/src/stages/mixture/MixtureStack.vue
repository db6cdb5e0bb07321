<script setup lang="ts">
import { computed } from 'vue'
import { nearest, type CylinderField, type Field, type RunTrace } from '@yuzumix/core'
import { actOf } from '@/parts/keys/keymap'
import MixtureCurves from '@/parts/chart/MixtureCurves.vue'
import RpmAxis from '@/parts/chart/RpmAxis.vue'
import RulerStack from '@/parts/chart/RulerStack.vue'
import type { RulerSpan } from '@/parts/chart/RulerSpans.vue'
import { useRulerStack } from '@/parts/chart/useRulerStack'
import FieldCells from '@/parts/field/FieldCells.vue'
import { grouped } from '@/parts/numbers/format'
import { useHandling } from '@/job/handling'
import { pinSpans } from '@/parts/pins/pinSpans'
import { useDisplay } from '@/stores/display'

const props = defineProps<{
  field: Field
  cylinder: CylinderField
  traces: RunTrace[]
  row: number
  highlighted: string
  about: string
}>()
const selected = defineModel<{ row: number; column: number } | null>('selected', { required: true })
const emit = defineEmits<{ run: [step: 1 | -1] }>()
const display = useDisplay()
const handling = useHandling()

const stack = useRulerStack(() => props.field.grid)
const { svg, width, height, x } = stack
defineExpose({ svg })
const AXIS = 24
const chartHeight = computed(() => Math.round(Math.max(120, height.value * 0.33)))
const fieldTop = computed(() => chartHeight.value + AXIS)
const fieldHeight = computed(() => Math.max(80, height.value - fieldTop.value - 6))

/** The cell chosen, where no pointer is. */
const resting = computed(() => (selected.value ? x.value(props.field.grid.rpm[selected.value.column]!) : null))
/** What is true of a span of rpm, drawn once through the whole stack. */
const spans = computed<RulerSpan[]>(() => [
  ...pinSpans(handling.complaints, props.field.grid.rpm.at(-1)!),
  ...props.field.runs.flatMap((run): RulerSpan[] =>
    run.odd && props.traces.some((trace) => trace.id === run.id)
      ? [span(run.id, run.odd.fromRpm, run.odd.toRpm, 'attention', 'odd run')]
      : [],
  ),
  ...props.field.misfires
    .filter((zone) => zone.rows.includes(props.row))
    .map((zone, k) => span(`misfire${k}`, zone.fromRpm, zone.toRpm, 'attention', 'misfire')),
  ...props.field.heldZones.flatMap((zone, k): RulerSpan[] =>
    nearest(props.field.grid.load, zone.load) === props.row
      ? [span(`held${k}`, zone.fromRpm, zone.toRpm, 'quiet', 'held')]
      : [],
  ),
])
function span(key: string, from: number, to: number, look: RulerSpan['look'], what: string): RulerSpan {
  return { key, from, to, look, text: `${what} ${grouped(from)} to ${grouped(to)}` }
}

const MOVES: Record<string, [number, number]> = {
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
  ArrowUp: [1, 0],
  ArrowDown: [-1, 0],
  Home: [0, -999],
  End: [0, 999],
}
function move(event: KeyboardEvent): void {
  const pressed = actOf('field', event)
  if (pressed === 'run') return emit('run', event.key === ']' ? 1 : -1)
  if (pressed === null) return
  const step = MOVES[event.key]!
  event.preventDefault()
  const { rpm, load } = props.field.grid
  const from = selected.value ?? { row: props.row, column: 0 }
  const clamp = (value: number, count: number): number => Math.min(count - 1, Math.max(0, value))
  selected.value = { row: clamp(from.row + step[0], load.length), column: clamp(from.column + step[1], rpm.length) }
}
</script>

<template>
  <RulerStack
    :stack="stack"
    :label="`Mixture field. Arrow keys move from cell to cell. ${about}`"
    :spans="spans"
    :spans-to="height - 6"
    :names-at="chartHeight - 8"
    :resting="resting"
    @key="move"
  >
    <MixtureCurves
      :field="field"
      :cylinder="cylinder"
      :traces="traces"
      :row="row"
      :x="x"
      :width="width"
      :height="chartHeight"
      :highlighted="highlighted"
    />
    <RpmAxis :grid="field.grid" :x="x" :top="chartHeight" />
    <FieldCells
      :field="field"
      :cylinder="cylinder"
      :x="x"
      :top="fieldTop"
      :height="fieldHeight"
      :selected="selected"
      :dark="display.dark"
      @select="selected = { row: $event.row, column: $event.column }"
    />
  </RulerStack>
</template>
