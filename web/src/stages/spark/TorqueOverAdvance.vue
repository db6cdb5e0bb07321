<script setup lang="ts">
import { extent, line, scaleLinear } from 'd3'
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useDisplay } from '@/stores/display'
import { plain } from '@/parts/numbers/format'
import type { FittedBin } from '@/workers/spark.worker'

/** Torque over advance in one bin: readings, the fitted curve, the best with its interval, what is there and what is advised. */
const props = defineProps<{ one: FittedBin }>()
const display = useDisplay()
const box = ref<HTMLElement>()
const { width, height } = useElementSize(box)
const [LEFT, TOP, BOTTOM] = [64, 28, 36]

const advances = computed(() => props.one.bin.points.map((point) => point.advance))
const x = computed(() => {
  const [low = 0, high = 1] = extent(advances.value)
  return scaleLinear([low - 3, high + 3], [LEFT, width.value - 24])
})
const curve = computed(() => {
  const { curve: found } = props.one.fit
  if (!found) return []
  const [from, to] = x.value.domain() as [number, number]
  return Array.from({ length: 60 }, (_, k) => {
    const advance = from + ((to - from) * k) / 59
    const off = advance - found.centre
    return { advance, torque: found.a + found.b * off + found.c * off * off }
  })
})
const y = computed(() => {
  const [low = 0, high = 1] = extent([...props.one.bin.points, ...curve.value].map((point) => point.torque))
  const room = (high - low) * 0.1
  return scaleLinear([low - room, high + room], [height.value - BOTTOM, TOP])
})
const path = computed(
  () =>
    line<{ advance: number; torque: number }>()
      .x((point) => x.value(point.advance))
      .y((point) => y.value(point.torque))(curve.value) ?? '',
)
</script>

<template>
  <div ref="box" class="chart">
    <svg v-if="width > 200" :width="width" :height="height" role="img" aria-label="Torque over advance">
      <text :x="LEFT" y="16" class="title">
        Torque, {{ display.torqueUnit }}, over advance, ° before top dead centre
      </text>
      <g v-for="tick in x.ticks(8)" :key="`x${tick}`">
        <line :x1="x(tick)" :x2="x(tick)" :y1="TOP" :y2="height - BOTTOM" class="grid" />
        <text :x="x(tick)" :y="height - BOTTOM + 18" text-anchor="middle">{{ plain(tick, 0) }}</text>
      </g>
      <g v-for="tick in y.ticks(5)" :key="`y${tick}`">
        <text :x="LEFT - 8" :y="y(tick) + 4" text-anchor="end">{{ display.figure('torque', tick) }}</text>
      </g>
      <rect
        v-if="one.fit.best"
        :x="x(one.fit.best.low)"
        :width="Math.max(1, x(one.fit.best.high) - x(one.fit.best.low))"
        :y="TOP"
        :height="height - TOP - BOTTOM"
        class="interval"
      />
      <path :d="path" class="curve" />
      <line :x1="x(one.bin.present)" :x2="x(one.bin.present)" :y1="TOP" :y2="height - BOTTOM" class="present" />
      <text :x="x(one.bin.present) + 4" :y="height - BOTTOM - 6">now</text>
      <template v-if="one.fit.recommended !== null">
        <line
          :x1="x(one.fit.recommended)"
          :x2="x(one.fit.recommended)"
          :y1="TOP"
          :y2="height - BOTTOM"
          class="advised"
        />
        <text :x="x(one.fit.recommended) + 4" :y="TOP + 14">advised</text>
      </template>
      <g v-for="(point, k) in one.bin.points" :key="k">
        <circle :cx="x(point.advance)" :cy="y(point.torque)" r="5" :class="{ point: true, knock: point.knock }" />
        <text v-if="point.knock" :x="x(point.advance)" :y="y(point.torque) - 9" text-anchor="middle" class="knocks">
          knock
        </text>
      </g>
    </svg>
  </div>
</template>

<style scoped>
.chart {
  flex: 1;
  min-height: 220px;
  background: var(--panel);
  border: 1px solid var(--line);
  border-radius: 6px;
  overflow: hidden;
}
text {
  fill: var(--soft);
  font: 12px var(--figures);
}
.title {
  fill: var(--ink);
  font-family: inherit;
}
.grid {
  stroke: var(--line);
}
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
.point {
  fill: var(--leaf);
  stroke: var(--panel);
}
.knock {
  fill: var(--alarm);
}
.knocks {
  fill: var(--alarm);
}
</style>
