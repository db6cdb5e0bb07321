<script setup lang="ts" generic="Limits extends object">
import { ElButton, ElSwitch } from 'element-plus'
import NumberBox from '@/parts/numbers/NumberBox.vue'

/** A number that somebody may set, with its unit and its ends. */
interface Box {
  key: keyof Limits
  label: string
  unit: string
  least: number
  most: number
}

/** How far one pass may move a table: numbers, switches, a way back to the usual ones, and what to beware of. */
const props = defineProps<{
  boxes: readonly Box[]
  switches?: readonly { key: keyof Limits; label: string }[]
  step: number
  usual: Limits
}>()
const limits = defineModel<Limits>({ required: true })
const put = (key: keyof Limits, value: unknown): void => void (limits.value = { ...limits.value, [key]: value })
</script>

<template>
  <div class="panel">
    <label v-for="{ key, label, unit, least, most } in boxes" :key="String(key)">
      <span>{{ label }}</span>
      <NumberBox
        :model-value="Number(limits[key])"
        :least="least"
        :most="most"
        :step="step"
        :name="label"
        @update:model-value="put(key, $event)"
      />
      <span class="soft">{{ unit }}</span>
    </label>
    <label v-for="{ key, label } in switches ?? []" :key="String(key)">
      <span>{{ label }}</span>
      <ElSwitch
        :model-value="Boolean(limits[key])"
        :aria-label="label"
        @update:model-value="put(key, Boolean($event))"
      />
    </label>
    <ElButton size="small" class="start" @click="limits = { ...props.usual }">Back to the usual limits</ElButton>
    <p class="caution"><slot /></p>
  </div>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 10px;
}
label {
  display: grid;
  grid-template-columns: 1fr auto 16px;
  gap: 8px;
  align-items: center;
}
</style>
