<script setup lang="ts">
import { extent, line, scaleLinear } from 'd3'
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'

/** Readings, and a curve fitted through them; what marks a place on the axis stands as an upright line. */
const props = defineProps<{
  title: string
  points: { x: number; y: number; isAlarm: boolean }[]
  /** y at x; null while nothing is fitted */
  curve: ((x: number) => number) | null
  interval: { low: number; high: number } | null
  marks: { x: number; text: string; look: 'present' | 'advised' | 'alarm' }[]
  /** what stands at a reading that is one of alarm */
  alarm: string
  /** room to either side of the readings, in units of x */
  margin: number
  xText: (value: number) => string
  yText: (value: number) => string
}>()
const box = ref<HTMLElement>()
const { width, height } = useElementSize(box)
const [LEFT, TOP, BOTTOM] = [64, 28, 36]
const STEPS = 60

const x = computed(() => {
  const [low = 0, high = 1] = extent([...props.points.map((point) => point.x), ...props.marks.map((mark) => mark.x)])
  return scaleLinear([low - props.margin, high + props.margin], [LEFT, width.value - 24])
})
const curved = computed(() => {
  if (!props.curve) return []
  const [from, to] = x.value.domain() as [number, number]
  return Array.from({ length: STEPS }, (_, k) => {
    const at = from + ((to - from) * k) / (STEPS - 1)
    return { x: at, y: props.curve!(at) }
  })
})
const y = computed(() => {
  const [low = 0, high = 1] = extent([...props.points, ...curved.value].map((point) => point.y))
  const room = (high - low) * 0.1 || 1
  return scaleLinear([low - room, high + room], [height.value - BOTTOM, TOP])
})
const path = computed(
  () =>
    line<{ x: number; y: number }>()
      .x((point) => x.value(point.x))
      .y((point) => y.value(point.y))(curved.value) ?? '',
)
/** The interval as far as it is on the chart. */
const band = computed(() => {
  if (!props.interval) return null
  const [from, to] = x.value.range() as [number, number]
  const within = (value: number): number => Math.min(to, Math.max(from, x.value(value)))
  const [low, high] = [within(props.interval.low), within(props.interval.high)]
  return { x: low, width: Math.max(1, high - low) }
})
</script>

<template>
  <div ref="box" class="chart">
    <svg v-if="width > 200" :width="width" :height="height" role="img" :aria-label="title">
      <text :x="LEFT" y="16" class="title">{{ title }}</text>
      <g v-for="tick in x.ticks(8)" :key="`x${tick}`">
        <line :x1="x(tick)" :x2="x(tick)" :y1="TOP" :y2="height - BOTTOM" class="grid" />
        <text :x="x(tick)" :y="height - BOTTOM + 18" text-anchor="middle">{{ xText(tick) }}</text>
      </g>
      <text v-for="tick in y.ticks(5)" :key="`y${tick}`" :x="LEFT - 8" :y="y(tick) + 4" text-anchor="end">
        {{ yText(tick) }}
      </text>
      <rect v-if="band" :x="band.x" :width="band.width" :y="TOP" :height="height - TOP - BOTTOM" class="interval" />
      <path :d="path" class="curve" />
      <template v-for="(mark, k) in marks" :key="mark.text">
        <line :x1="x(mark.x)" :x2="x(mark.x)" :y1="TOP" :y2="height - BOTTOM" :class="mark.look" />
        <text :x="x(mark.x) + 4" :y="mark.look === 'present' ? height - BOTTOM - 6 : TOP + 14 + 14 * k">
          {{ mark.text }}
        </text>
      </template>
      <g v-for="(point, k) in points" :key="k">
        <circle :cx="x(point.x)" :cy="y(point.y)" r="5" :class="{ point: true, alarming: point.isAlarm }" />
        <text v-if="point.isAlarm" :x="x(point.x)" :y="y(point.y) - 9" text-anchor="middle" class="alarming">
          {{ alarm }}
        </text>
      </g>
    </svg>
  </div>
</template>

<style scoped src="@/parts/chart/chart.css"></style>

<style scoped>
.interval {
  fill: var(--leaf);
  opacity: 0.14;
}
.curve {
  fill: none;
  stroke: var(--leaf);
  stroke-width: 2;
}
.present {
  stroke: var(--soft);
  stroke-dasharray: 3 4;
}
.advised {
  stroke: var(--yuzu);
  stroke-width: 3;
}
line.alarm {
  stroke: var(--alarm);
  stroke-dasharray: 6 3;
}
.point {
  fill: var(--leaf);
  stroke: var(--panel);
}
.point.alarming,
text.alarming {
  fill: var(--alarm);
}
</style>
