<script setup lang="ts">
import { computed } from 'vue'
import type { Grid } from '@yuzumix/core'
import { grouped } from '@/parts/numbers/format'
import type { RulerScale } from './rulerScale'

const props = defineProps<{ grid: Grid; x: RulerScale; top: number }>()
/** Labels that do not touch: every breakpoint, every second, ... */
const every = computed(() => {
  const gap = (props.x(props.grid.rpm.at(-1)!) - props.x(props.grid.rpm[0]!)) / (props.grid.rpm.length - 1)
  return Math.max(1, Math.ceil(44 / gap))
})
</script>

<template>
  <g :transform="`translate(0, ${top})`">
    <g v-for="(rpm, k) in grid.rpm" :key="rpm" :transform="`translate(${x(rpm)}, 0)`">
      <line y1="0" y2="5" class="mark" />
      <text v-if="k % every === 0" y="17" text-anchor="middle">{{ grouped(rpm) }}</text>
    </g>
    <text :x="8" y="17" class="unit">rpm</text>
  </g>
</template>

<style scoped>
.mark {
  stroke: var(--line-strong);
}
text {
  font: 12px var(--figures);
  fill: var(--soft);
}
.unit {
  font-family: inherit;
}
</style>
