<script setup lang="ts">
import { ElSlider } from 'element-plus'

/** A slider whose label carries its value and unit; changes are given while it is dragged. */
defineProps<{ label: string; shown: string; name: string; least: number; most: number; step?: number }>()
const value = defineModel<number>({ required: true })
const first = (given: number | number[]): number => (Array.isArray(given) ? given[0]! : given)
</script>

<template>
  <label>
    <span>{{ label }} <strong class="figures">{{ shown }}</strong></span>
    <ElSlider
      :model-value="value"
      :min="least"
      :max="most"
      :step="step ?? 1"
      :aria-label="name"
      @input="value = first($event)"
    />
  </label>
</template>

<style scoped>
label :deep(.el-slider) {
  padding: 0 8px;
}
</style>
