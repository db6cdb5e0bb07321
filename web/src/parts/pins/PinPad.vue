<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Complaint } from '@yuzumix/core'
import { grouped } from '@/parts/numbers/format'

/** Where something is felt: dragged over rpm x throttle on the ruler. Typing beside it does the same. */
interface Span {
  fromRpm: number | null
  toRpm: number | null
  fromThrottle: number | null
  toThrottle: number | null
}
const props = defineProps<{ highest: number; pins: Complaint[] }>()
const span = defineModel<Span>({ required: true })

const LEFT = 52
const RIGHT = 32
const BOTTOM = 22
const HEIGHT = 180
const RPM_STEP = 100
const THROTTLE_STEP = 5
const box = ref<HTMLElement>()
const { width } = useElementSize(box)
const innerWidth = computed(() => Math.max(10, width.value - LEFT - RIGHT))
const innerHeight = HEIGHT - BOTTOM - 6
const x = (rpm: number): number => LEFT + (rpm / props.highest) * innerWidth.value
const y = (throttle: number): number => 6 + innerHeight * (1 - throttle / 100)
const ticks = computed(() => {
  const step = props.highest > 8000 ? 2000 : 1000
  return Array.from({ length: Math.floor(props.highest / step) + 1 }, (_, k) => k * step)
})
function rect(one: Partial<Span>): { x: number; y: number; width: number; height: number } {
  const [left, right] = [x(one.fromRpm ?? 0), x(one.toRpm ?? props.highest)]
  const [top, bottom] = [y(one.toThrottle ?? 100), y(one.fromThrottle ?? 0)]
  return { x: left, y: top, width: Math.max(3, right - left), height: Math.max(3, bottom - top) }
}
const isSet = computed(() => Object.values(span.value).some((value) => value !== null))

let start: { rpm: number; throttle: number } | null = null
function under(event: PointerEvent): { rpm: number; throttle: number } {
  const area = box.value!.getBoundingClientRect()
  const snap = (value: number, step: number, most: number): number =>
    Math.min(most, Math.max(0, Math.round(value / step) * step))
  return {
    rpm: snap(((event.clientX - area.left - LEFT) / innerWidth.value) * props.highest, RPM_STEP, props.highest),
    throttle: snap(100 * (1 - (event.clientY - area.top - 6) / innerHeight), THROTTLE_STEP, 100),
  }
}
function begin(event: PointerEvent): void {
  ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
  start = under(event)
}
function drag(event: PointerEvent): void {
  if (!start) return
  const now = under(event)
  span.value = {
    fromRpm: Math.min(start.rpm, now.rpm),
    toRpm: Math.max(start.rpm, now.rpm),
    fromThrottle: Math.min(start.throttle, now.throttle),
    toThrottle: Math.max(start.throttle, now.throttle),
  }
}
</script>

<template>
  <div ref="box" class="pad">
    <svg
      v-if="width > 60"
      :width="width"
      :height="HEIGHT"
      aria-hidden="true"
      data-test="pin-pad"
      @pointerdown="begin"
      @pointermove="drag"
      @pointerup="start = null"
    >
      <g v-for="rpm in ticks" :key="rpm">
        <line :x1="x(rpm)" :x2="x(rpm)" y1="6" :y2="HEIGHT - BOTTOM" />
        <text :x="x(rpm)" :y="HEIGHT - 6" text-anchor="middle">{{ grouped(rpm) }}</text>
      </g>
      <g v-for="throttle in [0, 50, 100]" :key="throttle">
        <line :x1="LEFT" :x2="width - RIGHT" :y1="y(throttle)" :y2="y(throttle)" />
        <text :x="LEFT - 6" :y="y(throttle) + 4" text-anchor="end">{{ throttle }} %</text>
      </g>
      <rect v-for="pin in pins" :key="pin.id" class="pin" v-bind="rect(pin)" />
      <rect v-if="isSet" class="new" v-bind="rect(span)" />
    </svg>
  </div>
</template>

<style scoped>
.pad {
  height: 180px;
  background: var(--panel);
  border: 1px solid var(--line);
  border-radius: 6px;
  touch-action: none;
  cursor: crosshair;
  user-select: none;
}
line {
  stroke: var(--line);
}
text {
  font-size: 11.5px;
  font-family: var(--figures);
  fill: var(--soft);
}
.pin {
  fill: var(--yuzu);
  fill-opacity: 0.22;
  stroke: var(--yuzu);
}
.new {
  fill: var(--leaf);
  fill-opacity: 0.2;
  stroke: var(--leaf);
  stroke-dasharray: 4 3;
}
</style>
