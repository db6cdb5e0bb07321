<script setup lang="ts">
import { useElementSize, useRafFn } from '@vueuse/core'
import { scaleLinear } from 'd3'
import { computed, ref, useTemplateRef, watch } from 'vue'
import type { NamedStretch, SetAsideSpan } from '@yuzumix/core'
import { useDisplay } from '@/stores/display'
import { drawLog, GUTTER, type Inks, type Lane, type Span } from './drawLog'

/** A log over its seconds: wheel and drag, keys, a brush with Shift, a cursor. */
const props = defineProps<{
  time: Float32Array
  lanes: readonly Lane[]
  shaded: readonly SetAsideSpan[]
  /** what fed the cell that is looked at */
  fed: readonly Span[]
  stretches: readonly NamedStretch[]
  chosen: string | null
  whole: Span
}>()
const view = defineModel<Span>('view', { required: true })
const at = defineModel<number | null>('at', { required: true })
const brushed = defineModel<Span | null>('brushed', { required: true })
const emit = defineEmits<{ choose: [id: string] }>()
const display = useDisplay()
const frame = useTemplateRef('frame')
const canvas = useTemplateRef('canvas')
const { width, height } = useElementSize(frame)
const RULER = 52
/** px from which a stretch has room for its word. */
const WORD = 52
/** px below which one is a line among many. */
const NARROW = 3
/** Openings and closings overlap what follows them: they stand on a line of their own, px. */
const rowOf = ({ kind }: NamedStretch): number => (kind === 'roll-on' || kind === 'chop' ? 16 : 0)
const wide = computed(() => Math.max(1, width.value - GUTTER))
const tall = computed(() => Math.max(60, height.value - RULER))
const span = computed(() => view.value.to - view.value.from)
const x = (s: number): number => GUTTER + ((s - view.value.from) / span.value) * wide.value
const secondsAt = (px: number): number => view.value.from + ((px - GUTTER) / wide.value) * span.value
const ticks = computed(() => scaleLinear([view.value.from, view.value.to], [0, 1]).ticks(8))
/** Those that are in view and wide enough to be hit. */
const shown = computed(() => {
  const { from, to } = view.value
  const least = ((to - from) / wide.value) * NARROW
  return props.stretches.filter((one) => one.to > from && one.from < to && one.to - one.from >= least)
})

/** Narrowest view, s. */
const NARROWEST = 0.2
function show(from: number, to: number): void {
  const long = Math.min(props.whole.to - props.whole.from, Math.max(NARROWEST, to - from))
  const start = Math.min(Math.max(props.whole.from, from), props.whole.to - long)
  view.value = { from: start, to: start + long }
}
function zoom(by: number, around = at.value ?? (view.value.from + view.value.to) / 2): void {
  const long = span.value * by
  show(
    around - ((around - view.value.from) / span.value) * long,
    around + ((view.value.to - around) / span.value) * long,
  )
}
function wheel(event: WheelEvent): void {
  const px = event.clientX - frame.value!.getBoundingClientRect().left
  if (Math.abs(event.deltaX) > Math.abs(event.deltaY)) {
    const by = (event.deltaX / wide.value) * span.value
    show(view.value.from + by, view.value.to + by)
  } else zoom(Math.exp(event.deltaY / 500), secondsAt(Math.max(GUTTER, px)))
}
let drag: { px: number; view: Span; isBrush: boolean } | null = null
const pxOf = (event: PointerEvent): number => event.clientX - frame.value!.getBoundingClientRect().left
function down(event: PointerEvent): void {
  ;(event.currentTarget as HTMLElement).setPointerCapture(event.pointerId)
  drag = { px: pxOf(event), view: view.value, isBrush: event.shiftKey }
}
function move(event: PointerEvent): void {
  const px = pxOf(event)
  at.value = Math.min(props.whole.to, Math.max(props.whole.from, secondsAt(px)))
  if (!drag) return
  if (drag.isBrush) {
    const [a, b] = [secondsAt(drag.px), secondsAt(px)]
    brushed.value = { from: Math.min(a, b), to: Math.max(a, b) }
  } else {
    const by = ((drag.px - px) / wide.value) * (drag.view.to - drag.view.from)
    show(drag.view.from + by, drag.view.to + by)
  }
}
const up = (): void => void (drag = null)
/** Share of the view that a key moves the cursor, and the view. */
const [CURSOR, PAN] = [0.01, 0.2]
function key(event: KeyboardEvent): void {
  const way = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0
  if (way !== 0 && event.shiftKey)
    show(view.value.from + way * PAN * span.value, view.value.to + way * PAN * span.value)
  else if (way !== 0) {
    // A cursor out of view comes back into it.
    const isSeen = at.value !== null && at.value >= view.value.from && at.value <= view.value.to
    const next = (isSeen ? at.value! : view.value.from) + way * CURSOR * span.value
    const held = Math.min(props.whole.to, Math.max(props.whole.from, next))
    at.value = held
    if (held > view.value.to || held < view.value.from)
      show(view.value.from + way * PAN * span.value, view.value.to + way * PAN * span.value)
  } else if (event.key === '+' || event.key === '=') zoom(0.5)
  else if (event.key === '-') zoom(2)
  else if (event.key === 'Home') show(props.whole.from, props.whole.to)
  else if (event.key === 'Escape') brushed.value = markFrom = null
  else if (event.key === 'm' && at.value !== null) mark(at.value)
  else return
  event.preventDefault()
}

/** Where a mark begun by key starts, s; null while none is. */
let markFrom: number | null = null
function mark(now: number): void {
  if (markFrom === null) {
    markFrom = now
    brushed.value = null
  } else {
    if (now !== markFrom) brushed.value = { from: Math.min(now, markFrom), to: Math.max(now, markFrom) }
    markFrom = null
  }
}

const needs = ref(true)
watch(
  () => [
    props.lanes,
    props.shaded,
    props.fed,
    props.time,
    view.value,
    at.value,
    brushed.value,
    width.value,
    tall.value,
    display.dark,
  ],
  () => (needs.value = true),
)
function inksOf(element: HTMLElement): Inks {
  const style = getComputedStyle(element)
  const of = (name: string): string => style.getPropertyValue(name).trim()
  return {
    ink: of('--ink'),
    soft: of('--soft'),
    line: of('--line'),
    trace: of('--leaf') || of('--ink'),
    shade: display.dark ? '#ffffff14' : '#22281f14',
    fed: display.dark ? '#7fc4a155' : '#2f6b4f33',
    chosen: of('--yuzu-soft') || '#f0b32333',
  }
}
/** ms without a movement after which it is drawn as finely as the screen shows. */
const RESTS_AFTER = 120
let movedAt = -Infinity
watch(view, () => (movedAt = performance.now()))
/** drawn coarsely while it moved, and not yet finely */
let isCoarse = false
let inks: Inks | null = null
watch(
  () => display.dark,
  () => (inks = null),
)
useRafFn(() => {
  const element = canvas.value
  const isMoving = performance.now() - movedAt < RESTS_AFTER
  if (!(needs.value || (isCoarse && !isMoving)) || !element || width.value === 0) return
  needs.value = false
  isCoarse = isMoving
  const ratio = window.devicePixelRatio || 1
  const [across, down] = [Math.round(width.value * ratio), Math.round(tall.value * ratio)]
  if (element.width !== across || element.height !== down) [element.width, element.height] = [across, down]
  const context = element.getContext('2d')!
  context.setTransform(ratio, 0, 0, ratio, 0, 0)
  context.font = `12px ${getComputedStyle(element).fontFamily}`
  inks ??= inksOf(element)
  const size = { width: width.value, height: tall.value }
  const { time, lanes, shaded, fed } = props
  drawLog(context, size, time, lanes, view.value, shaded, fed, brushed.value, at.value, inks, isMoving ? 2 : 1)
})
</script>

<template>
  <div
    ref="frame"
    class="log"
    tabindex="0"
    role="application"
    aria-label="The log over time. Arrows move the cursor, with Shift the view; plus and minus zoom; Home shows all; m marks from one place of the cursor to the next."
    @keydown="key"
  >
    <svg class="ruler" :width="width" :height="RULER" aria-hidden="true">
      <g v-for="one in shown" :key="one.id" @click="emit('choose', one.id)">
        <rect
          :x="Math.max(GUTTER, x(one.from))"
          :width="Math.max(1, Math.min(width, x(one.to)) - Math.max(GUTTER, x(one.from)))"
          :y="rowOf(one)"
          height="14"
          :class="['stretch', one.kind, { chosen: one.id === chosen }]"
        />
        <text
          v-if="x(one.to) - Math.max(GUTTER, x(one.from)) > WORD"
          class="kind"
          :x="Math.max(GUTTER, x(one.from)) + 4"
          :y="rowOf(one) + 11"
        >
          {{ one.kind }}
        </text>
      </g>
      <text x="8" y="12">stretches</text>
      <g v-for="tick in ticks" :key="tick" :transform="`translate(${x(tick)}, 0)`">
        <line y1="34" y2="52" class="grid" />
        <text x="3" y="47">{{ tick }} s</text>
      </g>
    </svg>
    <canvas
      ref="canvas"
      class="lanes"
      @wheel.prevent="wheel"
      @pointerdown="down"
      @pointermove="move"
      @pointerup="up"
      @pointercancel="up"
    />
  </div>
</template>

<style scoped>
.log {
  flex: 1;
  min-height: 220px;
  display: flex;
  flex-direction: column;
  contain: size;
  background: var(--panel);
  border: 1px solid var(--line);
  border-radius: 6px;
  overflow: hidden;
}
.ruler {
  flex: none;
  border-bottom: 1px solid var(--line);
}
.ruler text {
  font: 12px var(--figures);
  fill: var(--soft);
}
.grid {
  stroke: var(--line);
}
.stretch {
  fill: var(--line-strong);
  cursor: pointer;
}
.stretch.sweep,
.stretch.roll-on {
  fill: var(--leaf);
}
.stretch.hold {
  fill: var(--soft);
}
.ruler .kind {
  font-size: 11.5px;
  fill: var(--panel);
  pointer-events: none;
}
.stretch.chosen {
  stroke: var(--yuzu);
  stroke-width: 3;
}
.lanes {
  flex: 1;
  min-height: 0;
  width: 100%;
  touch-action: none;
  cursor: crosshair;
}
</style>
