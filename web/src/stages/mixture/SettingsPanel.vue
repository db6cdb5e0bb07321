<script setup lang="ts">
import {
  ElButton,
  ElInput,
  ElInputNumber,
  ElOption,
  ElRadioButton,
  ElRadioGroup,
  ElSelect,
  ElSlider,
} from 'element-plus'
import { computed, ref, watch } from 'vue'
import {
  DEFAULT_FILTERS,
  TARGET_PRESETS,
  type Field,
  type Filters,
  type LoadGrid,
  type TargetZone,
} from '@yuzumix/core'
import { readBreakpoints } from '@/parts/numbers/breakpointText'
import { plain } from '@/parts/numbers/format'
import { useDisplay } from '@/stores/display'
import { useJob } from '@/stores/job'

const props = defineProps<{ field: Field | null; grid: LoadGrid | null }>()
const open = useJob()
const display = useDisplay()

const mixture = computed(() => open.job!.mixture)
const filters = computed<Filters>(() => ({ ...DEFAULT_FILTERS, ...mixture.value.filters }))
const preset = computed(() => TARGET_PRESETS.find((one) => one.id === mixture.value.target.preset))
const setFilter = (change: Partial<Filters>): void => open.chooseMixture({ filters: { ...filters.value, ...change } })
const number = (value: number | number[] | null | undefined): number =>
  Array.isArray(value) ? value[0]! : (value ?? 0)

function setZone(k: number, change: Partial<TargetZone>): void {
  const zones = mixture.value.target.zones.map((zone, at) => (at === k ? { ...zone, ...change } : zone))
  open.chooseMixture({ target: { ...mixture.value.target, zones } })
}
function addZone(): void {
  const grid = props.grid
  const zone: TargetZone = {
    fromRpm: grid?.rpm[0] ?? 2000,
    toRpm: grid?.rpm.at(-1) ?? 6000,
    fromLoad: 0,
    toLoad: 20,
    lambda: 0.97,
  }
  open.chooseMixture({ target: { ...mixture.value.target, zones: [...mixture.value.target.zones, zone] } })
}
const dropZone = (k: number): void =>
  open.chooseMixture({
    target: { ...mixture.value.target, zones: mixture.value.target.zones.filter((_, at) => at !== k) },
  })

const rpmText = ref('')
const loadText = ref('')
const fault = ref('')
watch(
  () => props.grid,
  (grid) => grid && ([rpmText.value, loadText.value] = [grid.rpm.join(' '), grid.load.join(' ')]),
  { immediate: true },
)
function setBreakpoints(loadAxis: 'throttle' | 'manifold' = props.grid?.loadAxis ?? 'throttle'): void {
  const rpm = readBreakpoints('rpm', rpmText.value)
  const load = readBreakpoints('load', loadText.value)
  fault.value = 'fault' in rpm ? rpm.fault : 'fault' in load ? load.fault : ''
  if ('points' in rpm && 'points' in load)
    open.chooseMixture({ breakpoints: { loadAxis, rpm: rpm.points, load: load.points } })
}
const ZONE_FIELDS = [
  ['fromRpm', 'from rpm', 0, 30000, 100],
  ['toRpm', 'to rpm', 0, 30000, 100],
  ['fromLoad', 'from load', 0, 400, 5],
  ['toLoad', 'to load', 0, 400, 5],
  ['lambda', 'λ', 0.5, 1.6, 0.01],
] as const
</script>

<template>
  <div class="panel">
    <h2>Target</h2>
    <ElSelect
      :model-value="mixture.target.preset"
      aria-label="Target"
      @update:model-value="open.chooseMixture({ target: { ...mixture.target, preset: $event } })"
    >
      <ElOption v-for="one in TARGET_PRESETS" :key="one.id" :value="one.id" :label="one.name" />
    </ElSelect>
    <p v-if="preset" class="soft">
      {{ preset.reason }} <span class="figures">{{ display.mixture(preset.full) }}</span> at full load,
      <span class="figures">{{ display.mixture(preset.cruise) }}</span> at cruise and below.
    </p>
    <div v-for="(zone, k) in mixture.target.zones" :key="k" class="zone">
      <label v-for="[key, label, least, most, step] in ZONE_FIELDS" :key="key">
        <span class="soft">{{ label }}</span>
        <ElInputNumber
          :model-value="zone[key]"
          :min="least"
          :max="most"
          :step="step"
          :controls="false"
          size="small"
          :aria-label="`Zone ${k + 1} ${label}`"
          @update:model-value="setZone(k, { [key]: $event ?? zone[key] })"
        />
      </label>
      <ElButton size="small" :aria-label="`Drop zone ${k + 1}`" @click="dropZone(k)">Drop</ElButton>
    </div>
    <ElButton size="small" class="start" @click="addZone">Add a target zone</ElButton>

    <h2>Lag</h2>
    <ElRadioGroup
      :model-value="mixture.lagMs === null ? 'estimated' : 'fixed'"
      size="small"
      aria-label="Lag"
      @update:model-value="
        open.chooseMixture({ lagMs: $event === 'fixed' ? Math.round((field?.lag.lag ?? 0.15) * 1000) : null })
      "
    >
      <ElRadioButton value="estimated">Estimated</ElRadioButton>
      <ElRadioButton value="fixed">Fixed</ElRadioButton>
    </ElRadioGroup>
    <label v-if="mixture.lagMs !== null" class="slider">
      <span
        >From charge to reading <strong class="figures">{{ mixture.lagMs }} ms</strong></span
      >
      <ElSlider
        :model-value="mixture.lagMs"
        :min="0"
        :max="800"
        :step="10"
        aria-label="Lag in ms"
        @input="open.chooseMixture({ lagMs: number($event) })"
      />
    </label>
    <p v-else-if="field && field.method === 'solve'">
      <strong class="figures"
        >{{ Math.round(field.lag.lag * 1000)
        }}{{ field.lag.error === null ? '' : ` ± ${Math.round(field.lag.error * 1000)}` }} ms</strong
      >.
      <span class="soft">{{ field.lag.note }}</span>
    </p>

    <h2>Set aside</h2>
    <label class="slider">
      <span
        >Throttle moving faster than <strong class="figures">{{ filters.throttleRate }} %/s</strong></span
      >
      <ElSlider
        :model-value="filters.throttleRate"
        :min="2"
        :max="100"
        aria-label="Throttle rate in percent per second"
        @input="setFilter({ throttleRate: number($event) })"
      />
    </label>
    <label class="slider">
      <span
        >Settling after it <strong class="figures">{{ plain(filters.settle, 2) }} s</strong></span
      >
      <ElSlider
        :model-value="filters.settle"
        :min="0"
        :max="3"
        :step="0.05"
        aria-label="Settling time in seconds"
        @input="setFilter({ settle: number($event) })"
      />
    </label>
    <label class="slider">
      <span
        >Coolant below <strong class="figures">{{ filters.coolantLeast }} °C</strong></span
      >
      <ElSlider
        :model-value="filters.coolantLeast"
        :min="0"
        :max="110"
        aria-label="Least coolant temperature in degrees"
        @input="setFilter({ coolantLeast: number($event) })"
      />
    </label>
    <label class="line">
      Above a rev ceiling of
      <ElInputNumber
        :model-value="filters.revCeiling ?? undefined"
        :min="500"
        :max="30000"
        :step="100"
        size="small"
        controls-position="right"
        placeholder="none"
        aria-label="Rev ceiling in rpm"
        @update:model-value="setFilter({ revCeiling: $event ?? null })"
      />
      rpm
    </label>

    <h2>Breakpoints</h2>
    <p v-if="mixture.breakpoints === null" class="soft">
      {{
        open.fuelTables.length
          ? 'Those of the fuel table.'
          : 'Usual ones, until there is a fuel table or you set your own.'
      }}
    </p>
    <ElRadioGroup
      v-if="grid"
      :model-value="grid.loadAxis"
      size="small"
      aria-label="Load axis"
      @update:model-value="setBreakpoints($event as 'throttle' | 'manifold')"
    >
      <ElRadioButton value="throttle">Throttle %</ElRadioButton>
      <ElRadioButton value="manifold">Manifold kPa</ElRadioButton>
    </ElRadioGroup>
    <label>rpm <ElInput v-model="rpmText" type="textarea" :rows="2" aria-label="rpm breakpoints" /></label>
    <label>load <ElInput v-model="loadText" aria-label="load breakpoints" /></label>
    <p v-if="fault" class="fault" role="alert">{{ fault }}</p>
    <div>
      <ElButton size="small" @click="setBreakpoints()">Use these</ElButton>
      <ElButton v-if="mixture.breakpoints" size="small" @click="open.chooseMixture({ breakpoints: null })">{{
        open.fuelTables.length ? "Use the fuel table's" : 'Use the usual ones'
      }}</ElButton>
    </div>
  </div>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 8px;
  padding-right: 8px;
}
h2 {
  margin-top: 8px;
}
h2:first-child {
  margin-top: 0;
}
.zone {
  display: grid;
  grid-template-columns: repeat(5, 1fr) auto;
  gap: 4px;
  align-items: end;
  font-size: 12px;
}
.zone :deep(.el-input-number) {
  width: 100%;
}
.slider :deep(.el-slider) {
  padding: 0 8px;
}
.line {
  display: flex;
  gap: 8px;
  align-items: center;
}
.start {
  justify-self: start;
}
.fault {
  color: var(--alarm);
}
</style>
