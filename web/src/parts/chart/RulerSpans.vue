<script setup lang="ts">
import type { RulerScale } from './rulerScale'

/** Something that is true of a span of rpm, drawn once through the whole stack, under its lines; `RulerSpanNames` stands over them. */
export interface RulerSpan {
  key: string
  from: number
  to: number
  /** attention is what somebody should look at; quiet is what is merely so */
  look: 'attention' | 'quiet'
  text: string
}
defineProps<{ spans: RulerSpan[]; x: RulerScale; bottom: number }>()
</script>

<template>
  <g v-for="span in spans" :key="span.key" :class="span.look">
    <rect :x="x(span.from)" :width="Math.max(2, x(span.to) - x(span.from))" y="18" :height="Math.max(0, bottom - 18)" />
  </g>
</template>

<style scoped>
rect {
  fill: var(--yuzu);
  opacity: 0.16;
}
.quiet rect {
  fill: var(--soft);
  opacity: 0.1;
}
</style>
