<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { ref } from 'vue'
import {
  isRefusal,
  checkInput,
  SENSOR_PLACES,
  setChangeSchema,
  TORQUE_SOURCES,
  type Conditions,
  type RunSet,
  type SetChange,
  sentence,
} from '@yuzumix/core'
import ChoiceSelect from '@/parts/choose/ChoiceSelect.vue'
import { notifyProblem } from '@/api/notify'
import AirFields from '@/parts/numbers/AirFields.vue'
import NumberInput from '@/parts/numbers/NumberInput.vue'
import { grouped, plain } from '@/parts/numbers/format'
import { useJob } from '@/job/openJob'
import { useSetAir } from './useSetAir'

const props = defineProps<{ set: RunSet; conditions: Conditions | null }>()
const open = useJob()
const faults = ref<Record<string, string>>({})
const name = ref(props.set.name)
const texts = ref({ setup: props.set.setup, calibration: props.set.calibration, rig: props.set.rig })
const weather = ref({ ...props.set.weather })

async function change(what: SetChange): Promise<void> {
  faults.value = {}
  try {
    checkInput(setChangeSchema, what)
    await open.changeSet(props.set.id, what)
  } catch (error) {
    if (isRefusal(error))
      faults.value = Object.fromEntries(error.faults.map((fault) => [fault.field ?? '', fault.message]))
    if (!isRefusal(error, 'input-refused')) notifyProblem(error)
  }
}
function saveWeather(): void {
  const { temperatureC, pressureKpa, humidityPct } = weather.value
  const all = [temperatureC, pressureKpa, humidityPct]
  if (all.every((value) => typeof value === 'number')) {
    const told = { temperatureC: temperatureC!, pressureKpa: pressureKpa!, humidityPct: humidityPct! }
    if (JSON.stringify(told) !== JSON.stringify(props.set.weather)) void change({ weather: told })
  } else if (all.every((value) => typeof value !== 'number') && props.set.weather) void change({ weather: null })
}
const { air, factors } = useSetAir(() => props.conditions)
async function add(): Promise<void> {
  try {
    await open.addSet({ name: `Set ${open.sets.length + 1}` })
  } catch (error) {
    notifyProblem(error)
  }
}
</script>

<template>
  <div class="panel">
    <div class="line">
      <ElButton size="small" @click="add">Begin a new set</ElButton>
      <ElButton
        v-if="set.runCount === 0 && open.sets.length > 1"
        size="small"
        @click="open.deleteSet(set.id).catch(notifyProblem)"
        >Delete this empty set</ElButton
      >
    </div>
    <p class="soft">A set is the runs made in one state of the machine. Begin a new one when something is changed.</p>
    <label
      >Name<ElInput v-model="name" size="small" aria-label="Name of the set" @change="change({ name: name.trim() })"
    /></label>
    <label
      >State of the machine
      <ElInput
        v-model="texts.setup"
        size="small"
        aria-label="State of the machine"
        placeholder="exhaust, baffle, filter"
        @change="change({ setup: texts.setup.trim() })"
    /></label>
    <label
      >Calibration
      <ElInput
        v-model="texts.calibration"
        size="small"
        aria-label="Calibration"
        placeholder="stock, first pass"
        @change="change({ calibration: texts.calibration.trim() })"
    /></label>
    <label
      >Rig
      <ElInput
        v-model="texts.rig"
        size="small"
        aria-label="Rig"
        placeholder="which drum, or the road"
        @change="change({ rig: texts.rig.trim() })"
    /></label>
    <div class="pair">
      <label
        >Gear
        <NumberInput
          :model-value="set.gear ?? undefined"
          :min="1"
          :max="12"
          size="small"
          name="Gear"
          placeholder="not said"
          @update:model-value="change({ gear: $event ?? null })"
      /></label>
      <label
        >Sensor
        <ChoiceSelect
          :model-value="set.sensorPlace"
          name="Place of the sensor"
          placeholder="not said"
          clearable
          @update:model-value="change({ sensorPlace: $event || null })"
          :choices="SENSOR_PLACES"
        />
      </label>
    </div>
    <p v-if="set.sensorPlace === 'tailpipe'" class="soft">
      A tube up the tailpipe reads lean where little gas flows and averages the cylinders: the field trusts it less
      there.
    </p>
    <h3>Torque from</h3>
    <div class="pair">
      <label
        >Source
        <ChoiceSelect
          :model-value="set.torqueSource"
          name="Source of torque"
          placeholder="what the runs have"
          clearable
          @update:model-value="change({ torqueSource: $event || null })"
          :choices="TORQUE_SOURCES.map((source) => ({ value: source, label: `${source} column` }))"
        />
      </label>
      <label
        >Drum inertia, kg·m²
        <NumberInput
          :model-value="set.inertia ?? undefined"
          :min="0"
          :step="0.1"
          size="small"
          name="Drum inertia in kg·m²"
          placeholder="no drum"
          @update:model-value="change({ inertia: $event ?? null })"
      /></label>
    </div>
    <p v-if="faults['inertia']" class="fault" role="alert">Inertia {{ faults['inertia'] }}.</p>
    <h3>The air</h3>
    <AirFields v-model="weather" @done="saveWeather" />
    <template v-for="field in ['temperatureC', 'pressureKpa', 'humidityPct']" :key="field">
      <p v-if="faults[`weather.${field}`]" class="fault" role="alert">
        {{ { temperatureC: 'Temperature', pressureKpa: 'Pressure', humidityPct: 'Humidity' }[field] }}
        {{ sentence(faults[`weather.${field}`]!) }}
      </p>
    </template>
    <template v-if="air">
      <p class="figures">
        {{ conditions?.weatherLogged ? 'logged: ' : '' }}{{ plain(air.now.temperatureC, 1) }} °C,
        {{ plain(air.now.pressureKpa, 2) }} kPa, {{ plain(air.now.humidityPct, 0) }} % ·
        {{ plain(air.density, 3) }} kg/m³ · density altitude {{ grouped(air.altitude) }} m
      </p>
      <ul>
        <li v-for="one in factors" :key="one.label">
          <span class="figures">{{ one.label }}</span> <span v-if="one.warning" class="soft">{{ one.warning }}</span>
        </li>
      </ul>
    </template>
    <p v-else class="soft">Without weather, figures stay uncorrected and say so. All three are needed.</p>
  </div>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 8px;
  font-size: 13px;
}
label {
  display: grid;
  gap: 2px;
  color: var(--soft);
}
.line {
  display: flex;
  gap: 8px;
}
.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
}
.pair :deep(.number-input),
.triple :deep(.number-input) {
  width: 100%;
}
ul {
  margin: 0;
  padding-left: 18px;
}
h3 {
  margin-top: 4px;
}
</style>
