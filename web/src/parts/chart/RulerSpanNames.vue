<script setup lang="ts">
import { computed } from 'vue'
import { spanLines } from './spanLines'
import type { RulerSpan } from './RulerSpans.vue'
import type { RulerScale } from './rulerScale'

/** What the spans are called, written over the lines that cross them. */
const props = defineProps<{ spans: RulerSpan[]; x: RulerScale; textAt: number }>()
const named = computed(() => {
  const lines = spanLines(props.spans, props.x)
  return props.spans.flatMap((span, k) => (lines[k] === null ? [] : [{ ...span, line: lines[k]! }]))
})
</script>

<template>
  <g>
    <text v-for="span in named" :key="span.key" :x="x(span.from) + 4" :y="textAt - 14 * span.line">{{
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
