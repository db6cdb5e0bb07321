<script setup lang="ts">
import { line, scaleLinear } from 'd3'
import { computed, ref } from 'vue'
import { actOf } from '@/parts/keys/keymap'

/** A curve of one's own: the way from idle stop to full over the grip, by dragging its points or with the arrow keys. */
const curve = defineModel<[number, number][]>({ required: true })
const [SIZE, ROOM] = [240, 28]
const svg = ref<SVGSVGElement>()
const x = scaleLinear([0, 100], [ROOM, SIZE - 16])
const y = scaleLinear([0, 100], [SIZE - ROOM, 8])
const path = computed(() => line()(curve.value.map(([grip, share]) => [x(grip), y(share)])) ?? '')
const held = ref<number | null>(null)
/** A point goes up and down between its neighbours: a plate never shuts as the hand opens. */
function put(k: number, share: number): void {
  const least = curve.value[k - 1]?.[1] ?? 0
  const most = curve.value[k + 1]?.[1] ?? 100
  const next = Math.round(Math.min(most, Math.max(least, share)))
  curve.value = curve.value.map((point, i) => (i === k ? [point[0], next] : point))
}
function drag(event: PointerEvent): void {
  if (held.value === null) return
  put(held.value, y.invert(event.clientY === 0 ? 0 : event.clientY - svg.value!.getBoundingClientRect().top))
}
function key(k: number, event: KeyboardEvent): void {
  if (actOf('points', event) !== 'move') return
  event.preventDefault()
  put(k, curve.value[k]![1] + (event.key === 'ArrowUp' ? 1 : -1))
}
</script>

<template>
  <svg
    ref="svg"
    :width="SIZE"
    :height="SIZE"
    role="group"
    aria-label="Own curve: share of the way from idle stop to full, over the grip"
    @pointermove="drag"
    @pointerup="held = null"
    @pointerleave="held = null"
  >
    <g v-for="tick in [0, 25, 50, 75, 100]" :key="tick">
      <line :x1="x(0)" :x2="x(100)" :y1="y(tick)" :y2="y(tick)" class="grid" />
      <text :x="x(tick)" :y="SIZE - 10" text-anchor="middle">{{ tick }}</text>
      <text :x="ROOM - 4" :y="y(tick) + 4" text-anchor="end">{{ tick }}</text>
    </g>
    <path :d="path" class="line" />
    <circle
      v-for="([grip, share], k) in curve"
      :key="grip"
      :cx="x(grip)"
      :cy="y(share)"
      r="7"
      tabindex="0"
      role="slider"
      :aria-label="`At ${grip} % of grip`"
      aria-valuemin="0"
      aria-valuemax="100"
      :aria-valuenow="share"
      @pointerdown="held = k"
      @keydown="key(k, $event)"
    />
  </svg>
</template>

<style scoped>
svg {
  touch-action: none;
  background: var(--panel);
  border: 1px solid var(--line);
  border-radius: 6px;
}
text {
  font: 11.5px var(--figures);
  fill: var(--soft);
}
.grid {
  stroke: var(--line);
}
.line {
  fill: none;
  stroke: var(--leaf);
  stroke-width: 2;
}
circle {
  fill: var(--leaf);
  stroke: var(--panel);
  cursor: ns-resize;
}
circle:focus-visible {
  stroke: var(--yuzu);
  stroke-width: 3;
  outline: none;
}
</style>
