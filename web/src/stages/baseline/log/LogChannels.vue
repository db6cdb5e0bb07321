<script setup lang="ts">
import { ElCheckbox, ElCheckboxGroup } from 'element-plus'
import type { Lane } from './drawLog'

/** Channels of a log, chosen by eye, each with its value at the cursor. */
const { row } = defineProps<{
  lanes: readonly Lane[]
  /** of the cursor; -1 for nowhere */
  row: number
}>()
const shown = defineModel<string[]>('shown', { required: true })
const valueOf = ({ levels, figure }: Lane): string => {
  const value = levels.values[row]
  return value === undefined || Number.isNaN(value) ? '–' : figure(value)
}
</script>

<template>
  <h2>Channels</h2>
  <ElCheckboxGroup v-model="shown" class="channels" aria-label="Channels shown">
    <div v-for="lane in lanes" :key="lane.channel" v-memo="[lane, valueOf(lane)]" class="channel">
      <ElCheckbox :value="lane.channel" :label="lane.title" size="small" />
      <span class="figures">{{ valueOf(lane) }} {{ lane.unit }}</span>
    </div>
  </ElCheckboxGroup>
</template>

<style scoped>
h2 {
  margin: 10px 0 4px;
}
.channels {
  display: grid;
}
.channel {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 8px;
}
</style>
