<script setup lang="ts">
import { useElementSize, useRafFn, useThrottleFn } from '@vueuse/core'
import { computed, shallowRef, useTemplateRef, watch } from 'vue'
import type { NamedStretch, SetAsideSpan } from '@yuzumix/core'
import { useDisplay } from '@/stores/display'
import { GUTTER, logSheet, RULER, stretchAt, type Inks, type Lane, type LogScene, type Span } from './drawLog'

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
/** The cursor, s. Under a finger it moves at every frame, and what is told of it elsewhere follows some ten times a second. */
const at = defineModel<number | null>('at', { required: true })
const cursor = shallowRef(at.value)
watch(at, (now) => (cursor.value = now))
const tell = useThrottleFn(() => void (at.value = cursor.value), 100, true)
const brushed = defineModel<Span | null>('brushed', { required: true })
const emit = defineEmits<{ choose: [id: string] }>()
const display = useDisplay()
const frame = useTemplateRef('frame')
const canvas = useTemplateRef('canvas')
const { width, height } = useElementSize(frame)
const wide = computed(() => Math.max(1, width.value - GUTTER))
const span = computed(() => view.value.to - view.value.from)
const secondsAt = (px: number): number => view.value.from + ((px - GUTTER) / wide.value) * span.value
/** Narrowest view, s. */
const NARROWEST = 0.2
function show(from: number, to: number): void {
  const long = Math.min(props.whole.to - props.whole.from, Math.max(NARROWEST, to - from))
  const start = Math.min(Math.max(props.whole.from, from), props.whole.to - long)
  view.value = { from: start, to: start + long }
}
function zoom(by: number, around = cursor.value ?? (view.value.from + view.value.to) / 2): void {
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
const scene = (): LogScene => ({ ...props, view: view.value, at: cursor.value, brushed: brushed.value })
function down(event: PointerEvent): void {
  const py = event.clientY - frame.value!.getBoundingClientRect().top
  const stretch = py < RULER ? stretchAt(scene(), width.value, pxOf(event), py) : null
  if (stretch) return emit('choose', stretch)
  ;(event.currentTarget as HTMLElement).setPointerCapture(event.pointerId)
  drag = { px: pxOf(event), view: view.value, isBrush: event.shiftKey }
}
function move(event: PointerEvent): void {
  const px = pxOf(event)
  cursor.value = Math.min(props.whole.to, Math.max(props.whole.from, secondsAt(px)))
  void tell()
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
    const now = cursor.value
    const next =
      (now !== null && now >= view.value.from && now <= view.value.to ? now : view.value.from) +
      way * CURSOR * span.value
    const held = Math.min(props.whole.to, Math.max(props.whole.from, next))
    at.value = cursor.value = held
    if (held > view.value.to || held < view.value.from)
      show(view.value.from + way * PAN * span.value, view.value.to + way * PAN * span.value)
  } else if (event.key === '+' || event.key === '=') zoom(0.5)
  else if (event.key === '-') zoom(2)
  else if (event.key === 'Home') show(props.whole.from, props.whole.to)
  else if (event.key === 'Escape') brushed.value = markFrom = null
  else if (event.key === 'm' && cursor.value !== null) mark(cursor.value)
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

function inksOf(element: HTMLElement): Inks {
  const style = getComputedStyle(element)
  const of = (name: string): string => style.getPropertyValue(name).trim()
  return {
    ink: of('--ink'),
    soft: of('--soft'),
    line: of('--line'),
    strong: of('--line-strong'),
    panel: of('--panel'),
    leaf: of('--leaf') || of('--ink'),
    yuzu: of('--yuzu'),
    shade: display.dark ? '#ffffff14' : '#22281f14',
    fed: display.dark ? '#7fc4a155' : '#2f6b4f33',
    brushed: of('--yuzu-soft') || '#f0b32333',
    font: of('--figures'),
  }
}
let [inks, sheet]: [Inks | null, ReturnType<typeof logSheet> | null] = [null, null]
let isDrawn = false
watch(
  () => [{ ...props }, view.value, cursor.value, brushed.value, width.value, height.value],
  () => (isDrawn = false),
)
watch(
  () => display.dark,
  () => ([inks, isDrawn] = [null, false]),
)
useRafFn(() => {
  const element = canvas.value
  if (isDrawn || !element || width.value === 0) return
  isDrawn = true
  inks ??= inksOf(element)
  sheet ??= logSheet(element)
  sheet.draw(scene(), { width: width.value, height: height.value }, window.devicePixelRatio || 1, inks)
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
  position: relative;
  contain: size;
  background: var(--panel);
  border: 1px solid var(--line);
  border-radius: 6px;
  overflow: hidden;
}
.lanes {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  touch-action: none;
  cursor: crosshair;
  will-change: transform;
}
</style>
