<script setup lang="ts">
import { ElInput, ElRadioButton, ElRadioGroup } from 'element-plus'
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import {
  isLeftOut,
  safeOffsets,
  mostRpm,
  sparkPlan,
  STOP_RULES,
  stopName,
  tickSparkPlan,
  type SparkPlanChoice,
  type SparkPlanStep,
} from '@yuzumix/core'
import { counted, grouped, signed } from '@/parts/numbers/format'
import NumberBox from '@/parts/numbers/NumberBox.vue'
import { useJob } from '@/job/openJob'
import SetSelect from '@/parts/choose/SetSelect.vue'
import StageSplit from '@/parts/frame/StageSplit.vue'
import { readRising } from './numberText'
import { useRechecks } from '@/job/useRechecks'
import type { Spark } from './useSpark'

/** Which settings to run, where, and in which order; and what stops it. */
const props = defineProps<{ spark: Spark }>()
const open = useJob()
const { settings, choose } = props.spark

const again = useRechecks()
const choice = computed(() => settings.value.plan)
const plan = computed(() => sparkPlan(choice.value, again.value, mostRpm({ job: open.job!, tables: open.tables })))
const ticks = computed(() =>
  tickSparkPlan(
    plan.value.steps,
    open.runs.filter((run) => run.set === open.set?.id && !isLeftOut(run)),
    settings.value.present,
  ),
)
const doneOf = (step: SparkPlanStep): number => Math.min(step.repeats, ticks.value.get(step.key) ?? 0)
const mixtureAgain = computed(() => again.value.filter((one) => one.what === 'mixture'))
const change = (over: Partial<SparkPlanChoice>): void => choose({ plan: { ...choice.value, ...over } })

const stopText = ref(choice.value.stops.join(' '))
const rpmText = ref(choice.value.rpm.join(' '))
const fault = ref('')
function read(key: 'stops' | 'rpm', text: string): void {
  const read = readRising(
    text,
    key === 'stops' ? { least: 1, most: 100, count: 12 } : { least: 500, most: 30000, count: 24 },
  )
  fault.value = 'fault' in read ? `${key === 'stops' ? 'Throttle stops' : 'Engine speeds'}: ${read.fault}` : ''
  if (!('fault' in read)) change({ [key]: read.numbers })
}
const where = (step: SparkPlanStep): string =>
  step.kind === 'sweep'
    ? `${grouped(step.fromRpm)} to ${grouped(step.toRpm)} rpm`
    : `${grouped(step.fromRpm)} rpm, held`
const settingsOf = (step: SparkPlanStep): string =>
  step.offsets.map((one) => (one === 0 ? 'now' : signed(one, Number.isInteger(one) ? 0 : 1))).join(', ')
const BOXES = [
  ['step', 'Degrees from one to the next', 0.5, 6, 0.5],
  ['below', 'Settings below now', 0, 5, 1],
  ['above', 'Settings above now', 0, 5, 1],
  ['repeats', 'Repeats', 1, 6, 1],
] as const
</script>

<template>
  <StageSplit label="Plan of spark steps" drawer-label="What stops it" :problem="fault">
    <template #bar>
      <slot name="switch" />
      <SetSelect v-if="open.sets.length > 1" />
      <span class="soft" role="status"
        >{{ counted(plan.runs, 'run') }}, about {{ plan.minutes }} min with pauses to cool</span
      >
    </template>
    <div class="form">
      <ElRadioGroup
        :model-value="choice.way"
        size="small"
        aria-label="How the advance is stepped"
        @update:model-value="change({ way: $event as 'steps' })"
      >
        <ElRadioButton value="steps">Held points</ElRadioButton>
        <ElRadioButton value="sweeps">Sweeps, one setting each</ElRadioButton>
      </ElRadioGroup>
      <label
        >Throttle stops, %
        <ElInput
          v-model="stopText"
          size="small"
          aria-label="Throttle stops in %"
          @change="read('stops', String($event))"
      /></label>
      <label
        >{{ choice.way === 'steps' ? 'Speeds held, rpm' : 'From and to, rpm' }}
        <ElInput v-model="rpmText" size="small" aria-label="Engine speeds in rpm" @change="read('rpm', String($event))"
      /></label>
      <label v-for="[key, name, least, most, step] in BOXES" :key="key"
        >{{ name }}
        <NumberBox
          :model-value="choice[key]"
          :least="least"
          :most="most"
          :step="step"
          :name="name"
          @update:model-value="change({ [key]: $event })"
      /></label>
      <p class="soft small">
        Each point:
        {{
          safeOffsets(choice)
            .map((one) => (one === 0 ? 'now' : `${signed(one, 1)}°`))
            .join(', ')
        }}. The first setting again at the end tells drift with heat.
      </p>
    </div>
    <div class="sheet" tabindex="0" aria-label="Steps of the plan">
      <table>
        <thead>
          <tr>
            <th scope="col">Throttle</th>
            <th scope="col">Where</th>
            <th scope="col">Settings, ° from now</th>
            <th scope="col">Done</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="step in plan.steps" :key="step.key">
            <td class="figures">{{ stopName(step.stop) }}</td>
            <td class="figures">
              {{ where(step) }} <span v-if="step.since" class="again">again: the mixture moved</span>
            </td>
            <td class="figures">{{ settingsOf(step) }}</td>
            <td class="figures">{{ doneOf(step) }} of {{ step.repeats }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <template #drawer>
      <div class="panel">
        <h3>What stops it</h3>
        <ul>
          <li v-for="rule in STOP_RULES" :key="rule">{{ rule }}</li>
        </ul>
        <p class="soft">
          Least throttle first, then rising speed: knock is met where it is mildest. At the simulated bench a step
          leaves out what lies beyond knock or falling torque by itself; everywhere else that is for the person at the
          knob.
        </p>
        <p>
          <RouterLink :to="{ name: 'bench', params: { job: open.job!.id } }">Run it at the bench</RouterLink> under
          Runs.
        </p>
        <template v-if="mixtureAgain.length">
          <h3>Mixture, to be measured again</h3>
          <p class="soft">Spark moved there since the last sweeps:</p>
          <ul>
            <li v-for="one in mixtureAgain" :key="`${one.stop} ${one.fromRpm}`" class="figures">
              {{ stopName(one.stop) }}, {{ grouped(one.fromRpm) }} to {{ grouped(one.toRpm) }} rpm ({{
                signed(one.moved)
              }}°)
            </li>
          </ul>
        </template>
        <p class="caution">
          Nobody near drum, chain and rear wheel; extraction and a carbon monoxide alarm indoors; a second person within
          reach of the stop. Fuel of the quality the rider will use: knock depends on it. Where the law has a say in
          emission parts, it holds here, too.
        </p>
      </div>
    </template>
  </StageSplit>
</template>

<style scoped>
.form {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 14px;
  align-items: end;
  flex: none;
}
.form label {
  display: grid;
  gap: 2px;
  font-size: 13px;
  color: var(--soft);
}
.form :deep(.el-input) {
  width: 180px;
}
.form :deep(.number-input) {
  width: 100px;
}
.form :deep(.number-input .el-input) {
  width: 100px;
}
.again {
  padding: 1px 6px;
  background: var(--yuzu-soft);
  border-left: 3px solid var(--yuzu);
}
.panel {
  display: grid;
  gap: 10px;
  padding-top: 12px;
}
.panel ul {
  margin: 0;
  padding-left: 18px;
  display: grid;
  gap: 6px;
}
</style>
