<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, onScopeDispose, ref } from 'vue'
import { isCalibrated, OXYGEN_PCT, type SafetyLimits, type CalibrationStep } from '@yuzumix/core'
import { plain } from '@/parts/numbers/format'
import NumberBox from '@/parts/numbers/NumberBox.vue'
import type { Bench } from './useBench'

const props = defineProps<{ bench: Bench }>()
const { state, news, isDriving, isBusy, controls } = props.bench
const known = computed(() => state.value!.sensors.calibration)
const done = computed(() => isCalibrated(known.value))
/** Steps under way: each holds its own button, so that a quick press of the next is not lost, and the plate where it is. */
const working = ref<CalibrationStep[]>([])
const volts = (value: number | null): string => (value === null ? 'not taken' : `${plain(value, 2)} V`)

/** What the sensors read now is asked for while this is looked at. */
const EVERY = 500
const timer = setInterval(() => void props.bench.refresh(), EVERY)
onScopeDispose(() => clearInterval(timer))

async function take(step: CalibrationStep): Promise<void> {
  working.value = [...working.value, step]
  await props.bench.calibrate(step).finally(() => (working.value = working.value.filter((one) => one !== step)))
}

const LIMITS: { key: keyof SafetyLimits; name: string; unit: string; least: number; most: number; step: number }[] = [
  { key: 'lean', name: 'Leaner than target times', unit: '', least: 1, most: 1.3, step: 0.01 },
  { key: 'leanBoosted', name: 'under boost times', unit: '', least: 1, most: 1.2, step: 0.01 },
  { key: 'load', name: 'from a throttle of', unit: '%', least: 10, most: 100, step: 5 },
  { key: 'knock', name: 'Knock level above', unit: '', least: 0.5, most: 20, step: 0.5 },
  { key: 'coolantC', name: 'Coolant above', unit: '°C', least: 60, most: 140, step: 1 },
  { key: 'rpm', name: 'Engine speed above', unit: 'rpm', least: 2000, most: 30000, step: 100 },
]
</script>

<template>
  <div v-if="state" class="panel">
    <h3>
      Throttle sensor
      <span :class="done.throttle ? 'soft' : 'mark'">{{ done.throttle ? 'calibrated' : 'uncalibrated' }}</span>
    </h3>
    <p class="figures">now {{ plain(state.sensors.throttleVolts, 2) }} V</p>
    <div class="line">
      <ElButton size="small" :loading="working.includes('closed')" @click="take('closed')">This is shut</ElButton>
      <span class="figures soft">{{ volts(known.closedVolts) }}</span>
    </div>
    <div class="line">
      <ElButton
        size="small"
        :disabled="!isDriving || working.length > 0"
        :aria-pressed="controls?.throttle === 100"
        @click="bench.set({ throttle: controls?.throttle === 100 ? 0 : 100 })"
        >{{ controls?.throttle === 100 ? 'Let the plate shut' : 'Hold the plate wide open' }}</ElButton
      >
      <ElButton size="small" :loading="working.includes('open')" @click="take('open')">This is wide open</ElButton>
      <span class="figures soft">{{ volts(known.openVolts) }}</span>
    </div>
    <h3>
      Wideband <span :class="done.wideband ? 'soft' : 'mark'">{{ done.wideband ? 'calibrated' : 'uncalibrated' }}</span>
    </h3>
    <p class="figures">
      {{
        state.sensors.freeAirPct === null
          ? 'exhaust gas at the sensor: no free air to read'
          : `free air reads ${plain(state.sensors.freeAirPct, 1)} % oxygen; it should be ${OXYGEN_PCT} %`
      }}
    </p>
    <div class="line">
      <ElButton size="small" :loading="working.includes('free-air')" @click="take('free-air')"
        >This is free air</ElButton
      >
      <span class="figures soft">{{
        known.freeAirPct === null ? 'not taken' : `${plain(known.freeAirPct, 1)} %`
      }}</span>
    </div>
    <p class="soft small">
      Engine off for all of it. Until then the throttle is read by its data sheet and the wideband as it comes; every
      run made so says it.
    </p>
    <h3>Stops a run by itself</h3>
    <label v-for="one in LIMITS" :key="one.key" class="limit">
      <span>{{ one.name }}</span>
      <NumberBox
        v-if="news"
        :model-value="news.limits[one.key]"
        :least="one.least"
        :most="one.most"
        :step="one.step"
        :disabled="!isDriving || isBusy"
        :name="`${one.name}, ${one.unit || 'level'}`"
        @update:model-value="bench.limit({ [one.key]: $event })"
      />
      <span class="soft">{{ one.unit }}</span>
    </label>
    <p v-if="!isDriving" class="soft small">Take the wheel under Drive to change these.</p>
  </div>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 8px;
}
h3 {
  display: flex;
  gap: 8px;
  align-items: center;
}
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}
.line :deep(.el-button + .el-button) {
  margin-left: 0;
}
.limit {
  display: grid;
  grid-template-columns: 150px 120px auto;
  gap: 8px;
  align-items: center;
}
.limit :deep(.number-input) {
  width: 120px;
}
.mark {
  padding: 1px 6px;
  background: var(--yuzu);
  color: #22281f;
  border-radius: 4px;
  font-size: 13px;
}
</style>
