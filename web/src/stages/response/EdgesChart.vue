<script setup lang="ts">
import { line, scaleLinear } from 'd3'
import { computed } from 'vue'
import type { Response } from '@yuzumix/core'
import RpmAxis from '@/parts/chart/RpmAxis.vue'
import RulerHairline from '@/parts/chart/RulerHairline.vue'
import RulerSpans, { type RulerSpan } from '@/parts/chart/RulerSpans.vue'
import RulerSpanNames from '@/parts/chart/RulerSpanNames.vue'
import { useRulerStack } from '@/parts/chart/useRulerStack'
import { changeColour } from '@/parts/field/changeColour'
import { grouped, signed, plain } from '@/parts/numbers/format'
import { useDisplay } from '@/stores/display'

/** Loop exits by throttle stop, overruns and engine braking, on one ruler. */
const props = defineProps<{ response: Response; before: Response | null; spans: RulerSpan[]; top: number }>()
const display = useDisplay()
const grid = computed(() => ({
  rpm: Array.from({ length: Math.max(2, Math.ceil(props.top / 1000)) }, (_, k) => (k + 1) * 1000),
  load: [0, 100],
}))
const { box, width, height, x, pointer, rpmUnder, follow, leave, walk } = useRulerStack(() => grid.value)
const [TOP, BOTTOM] = [34, 26]
/** Three bands: exits, overruns, braking. */
const part = computed(() => Math.max(40, (height.value - TOP - BOTTOM) / 3))
const load = computed(() =>
  scaleLinear([0, Math.max(20, ...props.response.exits.map((one) => one.load + 5))], [TOP + part.value - 8, TOP + 14]),
)
const paper = computed(() => (display.dark ? '#34382f' : '#eeece3'))
/** Labels of stops that lie close go side by side. */
const aside = computed(() => {
  const places: number[] = []
  props.response.exits.forEach((one, k) => {
    const before = props.response.exits[k - 1]
    const isClose = before !== undefined && Math.abs(load.value(before.load) - load.value(one.load)) < 14
    places.push(isClose ? (places[k - 1]! + 1) % 3 : 0)
  })
  return places
})
const overruns = computed(() => {
  const top = TOP + part.value + 18
  // A shut throttle at the end of a run tells where fuel was cut and no more.
  const all = props.response.overrun.filter((one) => one.backRpm !== null)
  const room = Math.min(18, Math.max(3, (part.value - 26) / Math.max(1, all.length)))
  return all.map((one, k) => ({ ...one, y: top + (k + 0.5) * room }))
})
const torque = computed(() => {
  const values = [...props.response.braking, ...(props.before?.braking ?? [])].map((one) => one.torque[0])
  // An engine that still pushes at the shut throttle goes above nought: the line stays in its panel.
  return scaleLinear(
    [Math.min(-1, ...values) * 1.1, Math.max(0, ...values) * 1.1],
    [height.value - BOTTOM - 4, TOP + 2 * part.value + 18],
  )
})
const brakingOf = (response: Response | null): string =>
  line<Response['braking'][number]>()
    .x((one) => x.value(one.rpm))
    .y((one) => torque.value(one.torque[0]))(response?.braking ?? []) ?? ''
</script>

<template>
  <div
    ref="box"
    class="chart"
    tabindex="0"
    role="img"
    aria-label="Loop exits by throttle stop, overruns with fuel cut, and engine braking over engine speed"
    @keydown="walk"
    @pointermove="follow"
    @pointerleave="leave"
  >
    <svg v-if="width > 200" :width="width" :height="height">
      <RulerSpans :spans="spans" :x="x" :bottom="height - BOTTOM" />
      <text x="8" :y="TOP - 4" class="title">
        Loop exit by throttle stop, %: step of the mixture, where and how sure
      </text>
      <g v-for="(one, k) in response.exits" :key="one.load">
        <text :x="50" :y="load(one.load) + 4" text-anchor="end">{{ plain(one.load, 0) }}</text>
        <line :x1="x.range()[0]" :x2="x(one.rpm)" :y1="load(one.load)" :y2="load(one.load)" class="closed" />
        <line :x1="x(one.rpm)" :x2="x.range()[1]" :y1="load(one.load)" :y2="load(one.load)" class="open" />
        <line
          :x1="x(one.rpm - one.rpmError)"
          :x2="x(one.rpm + one.rpmError)"
          :y1="load(one.load)"
          :y2="load(one.load)"
          class="whisker"
        />
        <rect
          :x="x(one.rpm) - 8"
          :y="load(one.load) - 8"
          width="16"
          height="16"
          rx="2"
          :fill="changeColour(one.stepPct, paper)"
          class="step"
        />
        <text :x="x(one.rpm + one.rpmError) + 12 + 150 * aside[k]!" :y="load(one.load) - 5">
          {{ signed(one.stepPct, 1) }} %, {{ grouped(Math.round(one.rpm)) }} rpm
        </text>
      </g>
      <text v-if="!response.exits.length" :x="80" :y="TOP + part / 2">No loop exit in these runs.</text>

      <text x="8" :y="TOP + part + 8" class="title">Overrun: fuel cut (right end) and back (left end)</text>
      <g v-for="one in overruns" :key="`${one.run} ${one.atS}`">
        <line :x1="x(one.backRpm!)" :x2="x(one.cutRpm)" :y1="one.y" :y2="one.y" class="overrun" />
        <circle :cx="x(one.backRpm!)" :cy="one.y" r="3" class="back" />
      </g>
      <text v-if="!overruns.length" :x="80" :y="TOP + 1.5 * part">
        No overrun in these runs in which fuel was cut and came back.
      </text>

      <text x="8" :y="TOP + 2 * part + 8" class="title">
        Engine braking, N·m at the shut throttle{{ before ? '; dashed before' : '' }}
      </text>
      <g v-for="tick in torque.ticks(3)" :key="tick">
        <text :x="50" :y="torque(tick) + 4" text-anchor="end">{{ tick < 0 ? `−${-tick}` : tick }}</text>
        <line :x1="x.range()[0]" :x2="x.range()[1]" :y1="torque(tick)" :y2="torque(tick)" class="grid" />
      </g>
      <path v-if="before" :d="brakingOf(before)" class="braking was" />
      <path :d="brakingOf(response)" class="braking" />
      <RulerSpanNames :spans="spans" :x="x" :text-at="height - BOTTOM - 6" />
      <RulerHairline
        v-if="pointer !== null"
        :at="pointer"
        :width="width"
        :height="height - BOTTOM"
        :text="`${grouped(Math.round(rpmUnder! / 10) * 10)} rpm`"
      />
      <RpmAxis :grid="grid" :x="x" :top="height - BOTTOM" />
    </svg>
  </div>
</template>

<style scoped src="@/parts/chart/chart.css"></style>

<style scoped>
.chart {
  min-height: 320px;
}
.open {
  stroke: var(--line-strong);
}
.closed {
  stroke: var(--soft);
  stroke-width: 5;
  stroke-dasharray: 2 2;
  opacity: 0.5;
}
.whisker {
  stroke: var(--ink);
  stroke-width: 2;
}
.step {
  stroke: var(--ink);
}
.overrun {
  stroke: var(--soft);
  stroke-width: 3;
}
.back {
  fill: var(--yuzu);
}
.was {
  stroke-dasharray: 5 4;
  opacity: 0.6;
}
.braking {
  fill: none;
  stroke: var(--leaf);
  stroke-width: 2;
}
</style>
