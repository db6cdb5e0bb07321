<script setup lang="ts">
import { ElButton, ElButtonGroup } from 'element-plus'
import { exportChart, type ChartText } from './exportChart'

const props = defineProps<{ chart: () => SVGSVGElement | null | undefined; text: ChartText }>()
const emit = defineEmits<{ failed: [error: unknown] }>()

async function save(format: 'svg' | 'png'): Promise<void> {
  const chart = props.chart()
  if (!chart) return
  try {
    await exportChart(chart, props.text, format)
  } catch (error) {
    emit('failed', error)
  }
}
</script>

<template>
  <ElButtonGroup class="export">
    <ElButton size="small" aria-label="Save the chart as SVG" @click="save('svg')">SVG</ElButton>
    <ElButton size="small" aria-label="Save the chart as PNG" @click="save('png')">PNG</ElButton>
  </ElButtonGroup>
</template>

<style scoped>
.export {
  white-space: nowrap;
  flex: none;
}
</style>
