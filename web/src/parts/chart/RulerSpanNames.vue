<script setup lang="ts">
import type { RulerSpan } from './RulerSpans.vue'
import type { RulerScale } from './rulerScale'

/** What the spans are called, written over the lines that cross them. */
defineProps<{ spans: RulerSpan[]; x: RulerScale; textAt: number }>()
</script>

<template>
  <g>
    <text v-for="span in spans" :key="span.key" :x="x(span.from) + 4" :y="textAt - 14 * (span.line ?? 0)">{{
      span.text
    }}</text>
  </g>
</template>

<style scoped>
text {
  font-size: 11.5px;
  fill: var(--ink);
  paint-order: stroke;
  stroke: var(--panel);
  stroke-width: 3px;
}
</style>
