<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, nextTick } from 'vue'
import { WEATHER_LIMITS, type Weather } from '@yuzumix/core'
import NumberInput from './NumberInput.vue'
import { plain } from './format'

/** Temperature, pressure and humidity of the air, each empty until it is said. */
const air = defineModel<Partial<Record<keyof Weather, number | undefined>>>({ required: true })
/** Said once the three are left, or Enter is pressed: they are one act, whole or not. */
const emit = defineEmits<{ done: [] }>()
/** kPa that were meant where hPa were typed, as barometers show them; null where kPa may be meant. */
const fromHpa = computed(() => {
  const typed = air.value.pressureKpa
  const [least, most] = WEATHER_LIMITS.pressureKpa
  return typed !== undefined && typed >= 10 * least && typed <= 10 * most ? typed / 10 : null
})
/** A pressure that is asked about is no act yet. */
const done = (): void => {
  void nextTick(() => {
    if (fromHpa.value === null) emit('done')
  })
}
function left(event: FocusEvent): void {
  const inside = event.currentTarget as HTMLElement
  if (!inside.contains(event.relatedTarget as Node | null)) done()
}
function takeHpa(): void {
  air.value = { ...air.value, pressureKpa: fromHpa.value! }
  done()
}
const FIELDS = [
  { key: 'temperatureC', words: '°C', name: 'Temperature in °C', precision: 1 },
  { key: 'pressureKpa', words: 'kPa, at the place', name: 'Pressure in kPa', precision: 1 },
  { key: 'humidityPct', words: '% humidity', name: 'Humidity in %', precision: 0 },
] as const
</script>

<template>
  <div class="air" @focusout="left" @keyup.enter="done">
    <label v-for="field in FIELDS" :key="field.key"
      >{{ field.words }}
      <NumberInput
        :model-value="air[field.key]"
        :controls="false"
        :precision="field.precision"
        size="small"
        :name="field.name"
        :placeholder="`${WEATHER_LIMITS[field.key][0]} to ${WEATHER_LIMITS[field.key][1]}`"
        @update:model-value="air = { ...air, [field.key]: $event }"
      />
    </label>
    <p v-if="fromHpa !== null" class="asked" role="alert">
      {{ plain(air.pressureKpa!, 0) }} kPa is no pressure of the air.
      <ElButton size="small" @click="takeHpa">It is hPa: take {{ plain(fromHpa, 1) }} kPa</ElButton>
    </p>
  </div>
</template>

<style scoped>
.air {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  gap: 8px;
  width: 100%;
}
.asked {
  grid-column: 1 / -1;
}
label {
  display: grid;
  gap: 2px;
  color: var(--soft);
  font-size: 13px;
}
</style>
