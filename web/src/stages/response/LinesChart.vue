<script setup lang="ts">
import { line, scaleLinear } from 'd3'
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'

/** Curves over the grip: one axis to the right in %, one upward; dashed ones are of before. */
export interface GripLine {
  name: string
  points: { x: number; y: number }[]
  colour: string
  dashed?: boolean
}
const props = defineProps<{
  title: string
  lines: GripLine[]
  unit: string
  most: number
  least?: number
  straight?: boolean
}>()
const box = ref<HTMLElement>()
const { width, height } = useElementSize(box)
const [LEFT, TOP, BOTTOM, RIGHT] = [64, 28, 32, 24]
const x = computed(() => scaleLinear([0, 100], [LEFT, Math.max(LEFT + 50, width.value - RIGHT)]))
const y = computed(() =>
  scaleLinear([props.least ?? 0, props.most], [Math.max(TOP + 10, height.value - BOTTOM), TOP]).nice(),
)
const path = computed(() =>
  line<{ x: number; y: number }>()
    .x((p) => x.value(p.x))
    .y((p) => y.value(p.y)),
)
</script>

<template>
  <div ref="box" class="chart">
    <svg v-if="width > 160" :width="width" :height="height" role="img" :aria-label="title">
      <text :x="8" y="16" class="title">{{ title }}</text>
      <g v-for="tick in x.ticks(5)" :key="`x${tick}`">
        <line :x1="x(tick)" :x2="x(tick)" :y1="TOP" :y2="height - BOTTOM" class="grid" />
        <text :x="x(tick)" :y="height - BOTTOM + 16" text-anchor="middle">{{ tick }} %</text>
      </g>
      <g v-for="tick in y.ticks(5)" :key="`y${tick}`">
        <line :x1="LEFT" :x2="width - RIGHT" :y1="y(tick)" :y2="y(tick)" class="grid" />
        <text :x="LEFT - 6" :y="y(tick) + 4" text-anchor="end">{{ tick < 0 ? `−${-tick}` : tick }} {{ unit }}</text>
      </g>
      <line v-if="straight" :x1="x(0)" :y1="y(0)" :x2="x(100)" :y2="y(100)" class="hand" />
      <path
        v-for="one in lines"
        :key="one.name"
        :d="path(one.points) ?? ''"
        :stroke="one.colour"
        class="line"
        :class="{ dashed: one.dashed }"
      >
        <title>{{ one.name }}</title>
      </path>
    </svg>
  </div>
</template>

<style scoped src="@/parts/chart/chart.css"></style>

<style scoped>
.chart {
  flex: 1 1 220px;
  height: 240px;
  min-height: 200px;
}
.hand {
  stroke: var(--soft);
  stroke-dasharray: 2 4;
}
.line {
  fill: none;
  stroke-width: 2;
}
.dashed {
  stroke-dasharray: 5 4;
  opacity: 0.7;
}
</style>
