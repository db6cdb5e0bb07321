<script setup lang="ts">
import { computed, ref } from 'vue'
import { densityCard, jetCorrection, standardAtmosphere, type Weather } from '@yuzumix/core'
import NumberBox from '@/parts/numbers/NumberBox.vue'
import { plain, signed } from '@/parts/numbers/format'
import type { Jetting } from './useJetting'

/** What another day's or place's air asks of the main jet, and a card for the weekend. */
const props = defineProps<{ jetting: Jetting }>()
const { settings, fitted, present } = props.jetting
const weather = (now: Weather | null): Weather => now ?? { temperatureC: 20, pressureKpa: 101.3, humidityPct: 50 }
const here = ref({ ...weather(present.value?.weather ?? null) })
const there = ref({ temperatureC: 10, pressureKpa: 101.3, humidityPct: 50 })
const jet = computed(() => fitted.value?.main ?? 100)
const box = computed(() => settings.value.box.main)
const correction = computed(() => jetCorrection(here.value, there.value, settings.value.body.scheme))
const wanted = computed(
  () => densityCard(here.value, jet.value, settings.value.body.scheme, box.value, [there.value])[0]!,
)

const TEMPERATURES = [0, 10, 20, 30]
const HEIGHTS = [0, 500, 1000, 1500, 2000]
/** The card: today's jet by temperature and height, humidity as today. */
const card = computed(() =>
  HEIGHTS.map((height) => ({
    height,
    cells: densityCard(
      here.value,
      jet.value,
      settings.value.body.scheme,
      box.value,
      TEMPERATURES.map((temperatureC) => ({
        temperatureC,
        pressureKpa: standardAtmosphere(height).pressureKpa,
        humidityPct: here.value.humidityPct,
      })),
    ),
  })),
)
const FIELDS = [
  { key: 'temperatureC', name: 'Air', unit: '°C', least: -30, most: 55, step: 1 },
  { key: 'pressureKpa', name: 'Pressure', unit: 'kPa', least: 55, most: 108, step: 0.1 },
  { key: 'humidityPct', name: 'Humidity', unit: '%', least: 0, most: 100, step: 5 },
] as const
</script>

<template>
  <div class="panel">
    <h3>Air density</h3>
    <p class="soft small">
      At the same jet the mixture goes as the root of air density. The main jet that is right here, where it will be
      used:
    </p>
    <table>
      <thead>
        <tr>
          <td />
          <th scope="col">here</th>
          <th scope="col">there</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="field in FIELDS" :key="field.key">
          <th scope="row">{{ field.name }}, {{ field.unit }}</th>
          <td v-for="(air, k) in [here, there]" :key="k">
            <NumberBox
              v-model="air[field.key]"
              :name="`${field.name} ${k ? 'there' : 'here'} in ${field.unit}`"
              :least="field.least"
              :most="field.most"
              :step="field.step"
            />
          </td>
        </tr>
      </tbody>
    </table>
    <p role="status">
      Density {{ signed(100 * (correction.density - 1)) }} %, jet area {{ signed(wanted.areaPct) }} %:
      <strong class="figures">{{ plain(jet, 1) }} → {{ plain(wanted.number, 1) }}</strong
      >{{ wanted.jet === null ? '; the box is empty' : `, at hand ${wanted.jet}` }}
    </p>
    <h3>Card for the weekend</h3>
    <table class="figures card" aria-label="Main jet by height and temperature">
      <thead>
        <tr>
          <th scope="col">height, m</th>
          <th v-for="one in TEMPERATURES" :key="one" scope="col">{{ one }} °C</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in card" :key="row.height">
          <th scope="row">{{ row.height }}</th>
          <td v-for="(cell, k) in row.cells" :key="k">
            {{ plain(cell.number, 1) }} <span v-if="cell.jet !== null" class="soft at-hand">{{ cell.jet }}</span>
          </td>
        </tr>
      </tbody>
    </table>
    <p class="soft small">
      Below it what is at hand; of two as near, the richer. Thin air also takes power, and a leaner jet than the
      readings support is never the answer at full throttle.
    </p>
  </div>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 8px;
  justify-items: start;
}
th {
  padding: 2px 10px 2px 0;
  font-weight: 400;
  text-align: left;
  color: var(--soft);
  font-size: 13px;
}
td {
  padding: 2px 8px 2px 0;
}
td :deep(.number-input) {
  width: 110px;
}
.card th,
.card td {
  padding: 3px 14px 3px 0;
  font-size: 13px;
  white-space: nowrap;
}
.at-hand {
  display: block;
}
</style>
