<script setup lang="ts">
import { scaleLinear } from 'd3'
import { computed } from 'vue'
import type { LoopExit, RollOnGroup } from '@yuzumix/core'
import RpmAxis from '@/parts/chart/RpmAxis.vue'
import RulerHairline from '@/parts/chart/RulerHairline.vue'
import RulerSpans, { type RulerSpan } from '@/parts/chart/RulerSpans.vue'
import RulerSpanNames from '@/parts/chart/RulerSpanNames.vue'
import { useRulerStack } from '@/parts/chart/useRulerStack'
import { changeColour, inkOn } from '@/parts/field/changeColour'
import { actOf } from '@/parts/keys/keymap'
import { grouped, signed } from '@/parts/numbers/format'
import { useDisplay } from '@/stores/display'
import { mainExcursion, stepText } from './groupWords'

/** Roll-ons on the ruler: start speed to the right, the opening that was reached upward. */
const props = defineProps<{
  groups: readonly RollOnGroup[]
  exits: readonly LoopExit[]
  spans: RulerSpan[]
  top: number
}>()
const chosen = defineModel<number>({ required: true })
const display = useDisplay()
const grid = computed(() => ({
  rpm: Array.from({ length: Math.max(2, Math.ceil(props.top / 1000)) }, (_, k) => (k + 1) * 1000),
  load: [0, 100],
}))
const { box, width, height, x, pointer, rpmUnder, follow, leave, walk } = useRulerStack(() => grid.value)
const [TOP, BOTTOM] = [34, 26]
const y = computed(() => scaleLinear([0, 105], [height.value - BOTTOM, TOP]))
const paper = computed(() => (display.dark ? '#34382f' : '#eeece3'))
/** Squares by area: the more repeats and the narrower the interval, the larger. */
const marks = computed(() =>
  props.groups.map((group, k) => {
    const size = mainExcursion(group)
    const [, low, high] = size >= 0 ? group.leanPct : group.richPct
    const share = Math.min(1, Math.max(0.25, (group.n / 3) * (1 - Math.min(0.7, (high - low) / 12))))
    const side = 40 * Math.sqrt(share)
    const colour = changeColour(size, paper.value)
    return { k, group, side, colour, ink: inkOn(colour), text: group.advice.what === 'none' ? '·' : signed(size, 1) }
  }),
)
function move(event: KeyboardEvent): void {
  if (walk(event)) return
  if (actOf('points', event) !== 'move') return
  event.preventDefault()
  const step = event.key === 'ArrowDown' ? 1 : -1
  chosen.value = Math.min(props.groups.length - 1, Math.max(0, chosen.value + step))
}
</script>

<template>
  <div
    ref="box"
    class="chart"
    tabindex="0"
    role="group"
    aria-label="Roll-ons by start speed and opening reached; up and down choose one"
    @keydown="move"
    @pointermove="follow"
    @pointerleave="leave"
  >
    <svg v-if="width > 200" :width="width" :height="height" aria-hidden="true">
      <text x="8" y="15">opening reached, %</text>
      <RulerSpans :spans="spans" :x="x" :bottom="height - BOTTOM" />
      <g v-for="tick in [0, 25, 50, 75, 100]" :key="tick">
        <line :x1="x.range()[0]" :x2="x.range()[1]" :y1="y(tick)" :y2="y(tick)" class="grid" />
        <text :x="50" :y="y(tick) + 4" text-anchor="end" class="figures">{{ tick }}</text>
      </g>
      <RulerSpanNames :spans="spans" :x="x" :text-at="height - BOTTOM - 22" />
      <line
        v-for="one in exits"
        :key="`exit ${one.load}`"
        :x1="x(one.rpm)"
        :x2="x(one.rpm)"
        :y1="y(0)"
        :y2="y(one.load)"
        class="exit"
      />
      <text v-if="exits.length" :x="x(exits[0]!.rpm) + 5" :y="y(0) - 6">loop exit</text>
      <line
        v-for="mark in marks"
        :key="`from ${mark.k}`"
        :x1="x(mark.group.rpm)"
        :x2="x(mark.group.rpm)"
        :y1="y(mark.group.fromLoad)"
        :y2="y(mark.group.toLoad)"
        class="from"
      />
      <g
        v-for="mark in marks"
        :key="mark.k"
        :class="{ mark: true, chosen: mark.k === chosen }"
        @click="chosen = mark.k"
      >
        <title>{{ stepText(mark.group) }}</title>
        <rect
          :x="x(mark.group.rpm) - mark.side / 2"
          :y="y(mark.group.toLoad) - mark.side / 2"
          :width="mark.side"
          :height="mark.side"
          :fill="mark.colour"
          rx="2"
        />
        <text :x="x(mark.group.rpm)" :y="y(mark.group.toLoad) + 4" text-anchor="middle" :fill="mark.ink" class="value">
          {{ mark.text }}
        </text>
      </g>
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
  flex: 1 1 240px;
  min-height: 200px;
}
text {
  font-family: inherit;
}
.figures,
.value {
  font-family: var(--figures);
}
.value {
  fill: inherit;
}
.exit {
  stroke: var(--ink);
  stroke-width: 2;
  stroke-dasharray: 3 2;
}
.mark {
  cursor: pointer;
}
.from {
  stroke: var(--line-strong);
  stroke-width: 2;
}
.mark.chosen rect {
  stroke: var(--yuzu);
  stroke-width: 3;
}
</style>
