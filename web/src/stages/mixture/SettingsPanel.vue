<script setup lang="ts">
import { ElButton, ElInput, ElRadioButton, ElRadioGroup } from 'element-plus'
import { computed, ref, watch } from 'vue'
import { RouterLink } from 'vue-router'
import {
  commandedTable,
  commandedWords,
  DEFAULT_FILTERS,
  LOAD_UNITS,
  TARGET_PRESETS,
  type Field,
  type Filters,
  type LoadGrid,
} from '@yuzumix/core'
import ChoiceSelect from '@/parts/choose/ChoiceSelect.vue'
import { readBreakpoints } from '@/parts/numbers/breakpointText'
import LabelledSlider from '@/parts/numbers/LabelledSlider.vue'
import { grouped, plain } from '@/parts/numbers/format'
import { useDisplay } from '@/stores/display'
import { useJob } from '@/job/openJob'
import TargetZones from './TargetZones.vue'

const props = defineProps<{ field: Field | null; grid: LoadGrid | null }>()
const open = useJob()
const display = useDisplay()

const mixture = computed(() => open.job!.mixture)
/** Table that commands lambda beside one of filling: then it says what is wanted. */
const commanded = computed(() => commandedTable(open.tables))
const unlike = computed(() => props.field?.commandedUnlike ?? null)
const filters = computed<Filters>(() => ({ ...DEFAULT_FILTERS, ...mixture.value.filters }))
const preset = computed(() => TARGET_PRESETS.find((one) => one.id === mixture.value.target.preset))
const setFilter = (change: Partial<Filters>): void => open.chooseMixture({ filters: { ...filters.value, ...change } })

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
</script>

<template>
  <div class="panel">
    <h2>Target</h2>
    <p v-if="commanded" class="soft">
      As commanded: what “{{ commanded.name }}” says, under Change. The filling is judged against it.
    </p>
    <p v-if="unlike" class="caution">{{ commandedWords(unlike, LOAD_UNITS[field!.grid.loadAxis], display.mixture) }}</p>
    <ChoiceSelect
      size="default"
      v-if="!open.job!.jetting && !commanded"
      :model-value="mixture.target.preset"
      name="Target"
      @update:model-value="open.chooseMixture({ target: { ...mixture.target, preset: $event } })"
      :choices="TARGET_PRESETS.map((one) => ({ value: one.id, label: one.name }))"
    />
    <p v-if="open.job!.jetting" class="soft">
      What the carburettor is to give stands with its parts under Change (Box), and counts here, too.
    </p>
    <p v-else-if="preset && !commanded" class="soft">
      {{ preset.reason }} <span class="figures">{{ display.mixture(preset.full) }}</span> at full load,
      <span class="figures">{{ display.mixture(preset.cruise) }}</span> at cruise and below.
    </p>
    <TargetZones v-if="!commanded" :grid="grid" />

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
    <LabelledSlider
      v-if="mixture.lagMs !== null"
      label="From charge to reading"
      :shown="`${mixture.lagMs} ms`"
      name="Lag in ms"
      :model-value="mixture.lagMs"
      :least="0"
      :most="800"
      :step="10"
      @update:model-value="open.chooseMixture({ lagMs: $event })"
    />
    <p v-else-if="field && field.method === 'solve'">
      <strong class="figures"
        >{{ Math.round(field.lag.lag * 1000)
        }}{{ field.lag.error === null ? '' : ` ± ${Math.round(field.lag.error * 1000)}` }} ms</strong
      >.
      <span class="soft">{{ field.lag.note }}</span>
    </p>
    <div v-if="mixture.lagMs === null && field?.lag.disagree" class="question" role="alert">
      <p>What these runs say of the lag lies apart by more than their errors. Which is it?</p>
      <ElButton
        v-for="one in field.lag.sources"
        :key="one.what"
        size="small"
        @click="open.chooseMixture({ lagMs: Math.round(one.lag * 1000) })"
        >{{ Math.round(one.lag * 1000) }} ± {{ Math.round(one.error * 1000) }} ms: {{ one.what }}</ElButton
      >
    </div>

    <p v-if="field && field.method === 'solve' && field.cylinders[0]" class="soft">
      Noise of one reading about the field:
      <span class="figures">{{ plain(100 * field.cylinders[0].noise, 1) }} %</span>.
    </p>

    <h2>Set aside</h2>
    <LabelledSlider
      label="Throttle moving faster than"
      :shown="`${filters.throttleRate} %/s`"
      name="Throttle rate in percent per second"
      :model-value="filters.throttleRate"
      :least="2"
      :most="100"
      @update:model-value="setFilter({ throttleRate: $event })"
    />
    <LabelledSlider
      label="Settling after it"
      :shown="`${plain(filters.settle, 2)} s`"
      name="Settling time in seconds"
      :model-value="filters.settle"
      :least="0"
      :most="3"
      :step="0.05"
      @update:model-value="setFilter({ settle: $event })"
    />
    <LabelledSlider
      label="Coolant below"
      :shown="`${filters.coolantLeast} °C`"
      name="Least coolant temperature in degrees"
      :model-value="filters.coolantLeast"
      :least="0"
      :most="110"
      @update:model-value="setFilter({ coolantLeast: $event })"
    />
    <p class="soft">
      Above the rev ceiling:
      {{ open.job!.limits?.revCeiling ? `${grouped(open.job!.limits.revCeiling)} rpm` : 'none is told' }}, as in the
      <RouterLink :to="{ name: 'brief', params: { job: open.job!.id } }">brief</RouterLink>
    </p>

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
.line {
  display: flex;
  gap: 8px;
  align-items: center;
}
.question {
  display: grid;
  gap: 6px;
  justify-items: start;
  padding: 8px 12px;
  border-left: 4px solid var(--yuzu);
  background: var(--yuzu-soft);
}
.question :deep(.el-button + .el-button) {
  margin-left: 0;
}
</style>
