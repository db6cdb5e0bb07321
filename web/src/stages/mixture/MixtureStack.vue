<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import { nearest, type CylinderField, type Field, type RunTrace } from '@yuzumix/core'
import MixtureCurves from '@/parts/chart/MixtureCurves.vue'
import RpmAxis from '@/parts/chart/RpmAxis.vue'
import { RULER_MARGIN, rulerScale } from '@/parts/chart/rulerScale'
import FieldNodes from '@/parts/field/FieldNodes.vue'
import { grouped } from '@/parts/numbers/format'
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

const box = ref<HTMLElement>()
const svg = ref<SVGSVGElement>()
defineExpose({ svg })
const { width, height } = useElementSize(box)
const AXIS = 24
const chartHeight = computed(() => Math.round(Math.max(120, height.value * 0.33)))
const fieldTop = computed(() => chartHeight.value + AXIS)
const fieldHeight = computed(() => Math.max(80, height.value - fieldTop.value - 6))
const x = computed(() => rulerScale(props.field.grid, width.value))

const pointer = ref<number | null>(null)
const hairline = computed(
  () => pointer.value ?? (selected.value ? x.value(props.field.grid.rpm[selected.value.column]!) : null),
)
function follow(event: PointerEvent): void {
  const at = event.clientX - box.value!.getBoundingClientRect().left
  pointer.value = at >= RULER_MARGIN.left && at <= width.value - RULER_MARGIN.right ? at : null
}

/** What is true of a span of rpm, drawn once through the whole stack. */
const bands = computed(() => [
  ...props.field.runs.flatMap((run) =>
    run.odd && props.traces.some((trace) => trace.id === run.id)
      ? [{ key: run.id, from: run.odd.fromRpm, to: run.odd.toRpm, kind: 'odd', text: 'odd run' }]
      : [],
  ),
  ...props.field.heldZones.flatMap((zone, k) =>
    nearest(props.field.grid.load, zone.load) === props.row
      ? [{ key: `held${k}`, from: zone.fromRpm, to: zone.toRpm, kind: 'held', text: 'held' }]
      : [],
  ),
])

const MOVES: Record<string, [number, number]> = {
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
  ArrowUp: [1, 0],
  ArrowDown: [-1, 0],
  Home: [0, -999],
  End: [0, 999],
}
function move(event: KeyboardEvent): void {
  if (event.altKey || event.ctrlKey || event.metaKey) return
  if (event.key === '[' || event.key === ']') return emit('run', event.key === ']' ? 1 : -1)
  const step = MOVES[event.key]
  if (!step) return
  event.preventDefault()
  const { rpm, load } = props.field.grid
  const from = selected.value ?? { row: props.row, column: 0 }
  const clamp = (value: number, count: number): number => Math.min(count - 1, Math.max(0, value))
  selected.value = { row: clamp(from.row + step[0], load.length), column: clamp(from.column + step[1], rpm.length) }
}
</script>

<template>
  <div
    ref="box"
    class="stack"
    tabindex="0"
    role="application"
    :aria-label="`Mixture field. Arrow keys move from node to node. ${about}`"
    @keydown="move"
    @pointermove="follow"
    @pointerleave="pointer = null"
  >
    <svg v-if="width > 100" ref="svg" :width="width" :height="height" aria-hidden="true">
      <g v-for="band in bands" :key="band.key" :class="band.kind">
        <rect
          :x="x(band.from)"
          :width="Math.max(2, x(band.to) - x(band.from))"
          y="18"
          :height="height - 24"
          class="span"
        />
        <text :x="x(band.from) + 4" :y="chartHeight - 8" class="span-text">
          {{ band.text }} {{ grouped(band.from) }} to {{ grouped(band.to) }}
        </text>
      </g>
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
      <FieldNodes
        :field="field"
        :cylinder="cylinder"
        :x="x"
        :top="fieldTop"
        :height="fieldHeight"
        :selected="selected"
        :dark="display.dark"
        @select="selected = { row: $event.row, column: $event.column }"
      />
      <g v-if="hairline !== null" class="hairline">
        <line :x1="hairline" :x2="hairline" y1="18" :y2="height" />
        <text
          v-if="pointer !== null"
          :x="hairline + (hairline > width - 90 ? -6 : 6)"
          :y="chartHeight - 22"
          :text-anchor="hairline > width - 90 ? 'end' : 'start'"
        >
          {{ grouped(x.invert(hairline)) }} rpm
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
  stroke-width: 1;
  opacity: 0.5;
  pointer-events: none;
}
.hairline text {
  font: 12px var(--figures);
  fill: var(--ink);
}
.span {
  fill: var(--yuzu);
  opacity: 0.16;
}
.held .span {
  fill: var(--soft);
  opacity: 0.1;
}
.span-text {
  font-size: 11px;
  fill: var(--ink);
}
</style>
