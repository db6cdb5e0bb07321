<script setup lang="ts">
import { nextTick } from 'vue'
import { WEATHER_LIMITS, type Weather } from '@yuzumix/core'
import NumberInput from './NumberInput.vue'

/** Temperature, pressure and humidity of the air, each empty until it is said. */
const air = defineModel<Partial<Record<keyof Weather, number | undefined>>>({ required: true })
/** Said once the three are left, or Enter is pressed: they are one act, whole or not. */
const emit = defineEmits<{ done: [] }>()
function left(event: FocusEvent): void {
  const inside = event.currentTarget as HTMLElement
  if (!inside.contains(event.relatedTarget as Node | null)) void nextTick(() => emit('done'))
}
const FIELDS = [
  { key: 'temperatureC', words: '°C', name: 'Temperature in °C', precision: 1 },
  { key: 'pressureKpa', words: 'kPa, at the place', name: 'Pressure in kPa', precision: 1 },
  { key: 'humidityPct', words: '% humidity', name: 'Humidity in %', precision: 0 },
] as const
</script>

<template>
  <div class="air" @focusout="left" @keyup.enter="nextTick(() => emit('done'))">
    <label v-for="field in FIELDS" :key="field.key"
      >{{ field.words }}
      <NumberInput
        v-model="air[field.key]"
        :controls="false"
        :precision="field.precision"
        size="small"
        :name="field.name"
        :placeholder="`${WEATHER_LIMITS[field.key][0]} to ${WEATHER_LIMITS[field.key][1]}`"
      />
    </label>
  </div>
</template>

<style scoped>
.air {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  gap: 8px;
  width: 100%;
}
label {
  display: grid;
  gap: 2px;
  color: var(--soft);
  font-size: 13px;
}
</style>
