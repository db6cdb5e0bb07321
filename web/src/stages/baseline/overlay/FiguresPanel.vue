<script setup lang="ts">
import { ElRadioButton, ElRadioGroup } from 'element-plus'
import { computed } from 'vue'
import {
  binRpm,
  CORRECTIONS,
  stopName,
  sweepName,
  sweepOf,
  UNITS,
  type CorrectionId,
  type CurveRuler,
  type Overlay,
  type RunInfo,
  type Stop,
} from '@yuzumix/core'
import ChoiceSelect from '@/parts/choose/ChoiceSelect.vue'
import LabelledSlider from '@/parts/numbers/LabelledSlider.vue'
import { grouped } from '@/parts/numbers/format'
import { useDisplay } from '@/stores/display'
import { useJob } from '@/job/openJob'

const props = defineProps<{
  stops: Stop<RunInfo>[]
  overlays: (Overlay | null)[]
  /** as printed, with its factor */
  correction: string
}>()
const open = useJob()
const display = useDisplay()

function peak(values: Float32Array, ruler: CurveRuler): { value: number; rpm: number } | null {
  let best = -1
  values.forEach((value, bin) => {
    if (value === value && (best < 0 || value > values[best]!)) best = bin
  })
  return best < 0 ? null : { value: values[best]!, rpm: binRpm(ruler, best) }
}
const name = (id: string): string => sweepName(open.runs.find((run) => run.id === sweepOf(id).run)?.name ?? 'a run', id)
const groups = computed(() =>
  props.stops.flatMap(({ stop }, k) => {
    const one = props.overlays[k]
    if (!one) return []
    const rows = one.curves.map((curve, r) => ({
      key: curve.run,
      name: name(curve.run),
      torque: peak(one.values.torque[r]!, one.ruler),
      power: peak(one.values.power[r]!, one.ruler),
      warm: one.warmUps.some((warm) => warm.run === curve.run),
    }))
    const counted = rows.filter((row) => !row.warm)
    return [
      {
        stop: stopName(stop),
        rows,
        mean: {
          torque: peak(one.spread.torque.mean, one.ruler),
          power: peak(one.spread.power.mean, one.ruler),
          runs: counted.length,
        },
        apart: spreadOf(counted.flatMap((row) => row.power?.value ?? [])),
      },
    ]
  }),
)
/** How far peaks lie apart, in units shown; null for a single one. */
function spreadOf(values: number[]): number | null {
  return values.length > 1 ? Math.max(...values) - Math.min(...values) : null
}
const figure = (quantity: 'torque' | 'power', at: { value: number; rpm: number } | null): string =>
  at ? `${display.figure(quantity, at.value)} @ ${grouped(at.rpm)}` : ''

function choose(power: { correction?: CorrectionId; smoothing?: number }): void {
  open.choose({ power: { ...open.job!.power, ...power } })
}
</script>

<template>
  <div class="panel">
    <label class="line"
      >Correction
      <ChoiceSelect
        :model-value="open.job!.power.correction"
        name="Correction standard"
        @update:model-value="choose({ correction: $event })"
        :choices="CORRECTIONS.map((one) => ({ value: one.id, label: `${one.name}: ${one.reference}` }))"
      />
    </label>
    <LabelledSlider
      label="Smoothed over"
      :shown="`±${open.job!.power.smoothing} rpm`"
      name="Smoothing in rpm to either side"
      :model-value="open.job!.power.smoothing"
      :least="50"
      :most="600"
      :step="50"
      @update:model-value="choose({ smoothing: $event })"
    />
    <div class="line">
      <ElRadioGroup v-model="display.torqueUnit" size="small" aria-label="Unit of torque">
        <ElRadioButton v-for="(_, unit) in UNITS.torque" :key="unit" :value="unit">{{ unit }}</ElRadioButton>
      </ElRadioGroup>
      <ElRadioGroup v-model="display.powerUnit" size="small" aria-label="Unit of power">
        <ElRadioButton v-for="(_, unit) in UNITS.power" :key="unit" :value="unit">{{ unit }}</ElRadioButton>
      </ElRadioGroup>
    </div>
    <p class="soft">
      Peaks of the smoothed curves, {{ correction }}. A peak says little by itself: look at the whole band, and compare
      sets under Compare.
    </p>
    <section v-for="group in groups" :key="group.stop">
      <h3>{{ group.stop }}</h3>
      <table>
        <thead>
          <tr>
            <th scope="col">Run</th>
            <th scope="col" class="right">{{ display.torqueUnit }} @ rpm</th>
            <th scope="col" class="right">{{ display.powerUnit }} @ rpm</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in group.rows" :key="row.key" :class="{ soft: row.warm }">
            <td>{{ row.name }}{{ row.warm ? ' (warm-up)' : '' }}</td>
            <td class="right figures">{{ figure('torque', row.torque) }}</td>
            <td class="right figures">{{ figure('power', row.power) }}</td>
          </tr>
          <tr class="mean">
            <td>Mean of {{ group.mean.runs }}</td>
            <td class="right figures">{{ figure('torque', group.mean.torque) }}</td>
            <td class="right figures">{{ figure('power', group.mean.power) }}</td>
          </tr>
        </tbody>
      </table>
      <p v-if="group.apart !== null" class="soft">
        Peaks lie {{ display.figure('power', group.apart) }} {{ display.powerUnit }} apart.
        {{ group.mean.runs < 3 ? 'Three repeats are wanted to see a trend.' : '' }}
      </p>
      <p v-else class="soft">One run alone misleads: repeat it, three times for a trend, six for a comparison.</p>
    </section>
  </div>
</template>

<style scoped>
.panel,
section {
  display: grid;
  gap: 8px;
}
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}
.line :deep(.el-select) {
  flex: 1;
  min-width: 200px;
}
table {
  width: 100%;
  border-collapse: collapse;
  font-size: 13px;
}
th {
  text-align: left;
  color: var(--soft);
  font-weight: 400;
}
td,
th {
  padding: 3px 4px;
  border-bottom: 1px solid var(--line);
}
.right {
  text-align: right;
  white-space: nowrap;
}
.mean td {
  font-weight: 700;
}
</style>
