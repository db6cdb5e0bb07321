<script setup lang="ts">
import { plain } from '@/parts/numbers/format'
import { area, line, scaleLinear } from 'd3'
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import { NINETY, RESPONSE_STEP, type RollOnGroup } from '@yuzumix/core'

/** Repeats of one roll-on over each other: what the gauge read, and what the cylinder had, with its band. */
const props = defineProps<{ group: RollOnGroup; lag: number }>()
const box = ref<HTMLElement>()
const { width, height } = useElementSize(box)
const [LEFT, TOP, BOTTOM, RIGHT] = [52, 28, 34, 12]
const SPAN: readonly [number, number] = [-0.4, 2.4]
const TINTS = ['var(--leaf)', 'var(--lean)', 'var(--rich)', 'var(--soft)']

const x = computed(() => scaleLinear([...SPAN], [LEFT, Math.max(LEFT + 50, width.value - RIGHT)]))
/** In the cylinder: percent of lambda off where it settles. */
const curve = computed(() => {
  const { first, curve: values, error } = props.group.excursion
  return Array.from(values, (value, k) => ({
    t: first + k * RESPONSE_STEP,
    value: 100 * value,
    half: 100 * NINETY * error[k]!,
  })).filter((one) => one.t >= SPAN[0] && one.t <= SPAN[1])
})
/** Read by the gauge, put back by the whole lag. */
const readings = computed(() =>
  props.group.members.map(({ trace, excursion }) =>
    trace.time
      .map((time, k) => ({ t: time - props.lag, value: 100 * (trace.lambda[k]! / excursion.settled - 1) }))
      .filter((one) => one.t >= SPAN[0] && one.t <= SPAN[1]),
  ),
)
const y = computed(() => {
  const all = [
    ...curve.value.flatMap((one) => [one.value - one.half, one.value + one.half]),
    ...readings.value.flat().map((one) => one.value),
  ]
  const most = Math.min(40, Math.max(5, ...all.map(Math.abs)))
  return scaleLinear([-most, most], [Math.max(TOP + 10, height.value - BOTTOM), TOP])
})
const path = computed(
  () =>
    line<{ t: number; value: number }>()
      .x((p) => x.value(p.t))
      .y((p) => y.value(p.value))(curve.value) ?? '',
)
const band = computed(
  () =>
    area<{ t: number; value: number; half: number }>()
      .x((p) => x.value(p.t))
      .y0((p) => y.value(p.value - p.half))
      .y1((p) => y.value(p.value + p.half))(curve.value) ?? '',
)
</script>

<template>
  <div ref="box" class="chart">
    <svg
      v-if="width > 200"
      :width="width"
      :height="height"
      role="img"
      aria-label="Mixture over the seconds after the opening: in the cylinder with its band, and as the gauge read it"
    >
      <text :x="8" y="16" class="title">
        Mixture off where it settles, %: in the cylinder (line and band), as read (dots)
      </text>
      <rect :x="LEFT" :width="width - LEFT - RIGHT" :y="y(2)" :height="y(-2) - y(2)" class="settled" />
      <g v-for="tick in y.ticks(5)" :key="`y${tick}`">
        <line :x1="LEFT" :x2="width - RIGHT" :y1="y(tick)" :y2="y(tick)" class="grid" />
        <text :x="LEFT - 6" :y="y(tick) + 4" text-anchor="end">
          {{ tick > 0 ? `+${tick}` : tick < 0 ? `−${-tick}` : 0 }}
        </text>
      </g>
      <g v-for="tick in x.ticks(7)" :key="`x${tick}`">
        <text :x="x(tick)" :y="height - BOTTOM + 16" text-anchor="middle">{{ plain(tick, 1) }} s</text>
      </g>
      <line :x1="x(0)" :x2="x(0)" :y1="TOP" :y2="height - BOTTOM" class="opens" />
      <text :x="x(0) + 4" :y="height - BOTTOM - 4">throttle opens</text>
      <text :x="width - RIGHT - 4" :y="TOP + 12" text-anchor="end">leaner</text>
      <text :x="width - RIGHT - 4" :y="height - BOTTOM - 4" text-anchor="end">richer</text>
      <g v-for="(member, k) in readings" :key="k" :fill="TINTS[k % TINTS.length]">
        <circle v-for="(one, i) in member" :key="i" :cx="x(one.t)" :cy="y(one.value)" r="1.8" opacity="0.55" />
      </g>
      <path :d="band" class="band" />
      <path :d="path" class="curve" />
    </svg>
  </div>
</template>

<style scoped src="@/parts/chart/chart.css"></style>

<style scoped>
.chart {
  flex: 1 1 240px;
  min-height: 200px;
}
.settled {
  fill: var(--leaf);
  opacity: 0.08;
}
.opens {
  stroke: var(--ink);
  stroke-dasharray: 4 3;
}
.band {
  fill: var(--leaf);
  opacity: 0.2;
}
.curve {
  fill: none;
  stroke: var(--leaf);
  stroke-width: 2.5;
}
</style>
