<script setup lang="ts">
import { computed } from 'vue'

/** The hairline through a stack, with what stands under it; on its emptier side. */
const props = defineProps<{ at: number; width: number; height: number; text?: string; y?: number }>()
const isRight = computed(() => props.at > props.width / 2)
</script>

<template>
  <g class="hairline">
    <line :x1="at" :x2="at" y1="18" :y2="height" />
    <text v-if="text" :x="at + (isRight ? -6 : 6)" :y="y ?? 30" :text-anchor="isRight ? 'end' : 'start'">{{
      text
    }}</text>
  </g>
</template>

<style scoped>
line {
  stroke: var(--ink);
  stroke-width: 1;
  opacity: 0.5;
  pointer-events: none;
}
text {
  font: 12px var(--figures);
  fill: var(--ink);
  paint-order: stroke;
  stroke: var(--panel);
  stroke-width: 4px;
  pointer-events: none;
}
</style>
