<script setup lang="ts">
import { useStorage } from '@vueuse/core'
import { ElButton, ElCheckbox, ElCheckboxGroup } from 'element-plus'
import { computed, ref, shallowRef, watch } from 'vue'
import type { RoadPowerTold } from '@yuzumix/core'
import { api } from '@/api/client'
import { useJob } from '@/job/openJob'
import StageSplit from '@/parts/frame/StageSplit.vue'
import NumberInput from '@/parts/numbers/NumberInput.vue'
import { plain } from '@/parts/numbers/format'
import ViewSwitch from '@/stages/baseline/ViewSwitch.vue'
import RoadStack from './RoadStack.vue'

/** Torque and power from acceleration on the road, for lack of a drum. */
const open = useJob()
const runs = computed(() => open.runs.filter((run) => run.channels.some((one) => one.channel === 'speed')))
const chosen = ref<string[]>([])
const machine = useStorage<{
  massKg?: number | undefined
  rotatingMassKg?: number | undefined
  tyreCircumferenceM?: number | undefined
}>(`yuzumix.road.${open.job?.id ?? ''}`, {})
watch(runs, (now) => (chosen.value = chosen.value.filter((id) => now.some((run) => run.id === id))), {
  immediate: true,
})
const told = shallowRef<RoadPowerTold | null>(null)
const [busy, problem] = [ref(false), ref('')]
watch([chosen, machine], () => (told.value = null), { deep: true })

async function ask(): Promise<void> {
  const { massKg, rotatingMassKg, tyreCircumferenceM } = machine.value
  if (massKg === undefined) return
  busy.value = true
  try {
    told.value = await api.roadPower(open.job!.id, {
      runs: chosen.value,
      massKg,
      ...(rotatingMassKg !== undefined && { rotatingMassKg }),
      ...(tyreCircumferenceM !== undefined && { tyreCircumferenceM }),
    })
    problem.value = ''
  } catch (error) {
    problem.value = (error as Error).message
  } finally {
    busy.value = false
  }
}
const SLOPES = {
  altitude: 'Slope is taken out by the altitude of the log.',
  directions: 'Slope and wind are taken out as far as the runs went in opposite directions over the same road.',
  'left in': 'Slope and wind are in these figures: one direction only, and no altitude.',
}
</script>

<template>
  <StageSplit label="Power on the road" drawer-label="What it is worked out from" :problem="problem">
    <template #bar>
      <ViewSwitch />
      <span class="soft">road figures: against each other only, never against a drum</span>
    </template>
    <RoadStack v-if="told" :told="told" />
    <p v-else class="soft empty">
      {{
        runs.length
          ? 'Choose the runs and say the mass: torque comes of how the machine accelerates.'
          : 'No run has a road speed. One gear, wide open, from low to high; then the clutch in until it is slow: twice, in opposite directions.'
      }}
    </p>
    <template #drawer>
      <h2>Runs with a road speed</h2>
      <ElCheckboxGroup v-model="chosen" class="runs" aria-label="Runs that count">
        <ElCheckbox v-for="run in runs" :key="run.id" :value="run.id" :label="run.name" size="small" />
      </ElCheckboxGroup>
      <p v-if="runs.length === 0" class="soft">None yet.</p>
      <div class="machine">
        <label
          >Mass with rider and fuel, kg
          <NumberInput v-model="machine.massKg" :min="20" :max="2000" name="Mass with rider and fuel in kg"
        /></label>
        <label
          >What turns, as mass beside it, kg
          <NumberInput v-model="machine.rotatingMassKg" :min="0" :max="300" name="Turning mass in kg"
        /></label>
        <label
          >Circumference of the driven tyre, m
          <NumberInput v-model="machine.tyreCircumferenceM" :min="0.3" :max="4" :step="0.01" name="Circumference in m"
        /></label>
        <ElButton
          type="primary"
          :loading="busy"
          :disabled="chosen.length === 0 || machine.massKg === undefined"
          @click="ask"
          >Work out torque and power</ElButton
        >
      </div>
      <template v-if="told">
        <h2>What it rests on</h2>
        <p>
          {{ told.pulls }} {{ told.pulls === 1 ? 'pull' : 'pulls' }}.
          {{
            told.drag === 'coast-down'
              ? 'Rolling and drag are read off the coast-down.'
              : 'No coast-down was found: rolling and drag are taken as usual, give or take a third.'
          }}
          {{ SLOPES[told.slope] }}
        </p>
        <p v-if="told.engineTurnsPerWheelTurn.length">
          The engine turns
          <span class="figures">{{ told.engineTurnsPerWheelTurn.map((one) => plain(one, 2)).join(', ') }}</span>
          times for one turn of the wheel.
        </p>
        <p class="soft">The band is a 90 % interval; what the mass is off by is not in it.</p>
        <p class="caution">{{ told.caution }}</p>
      </template>
    </template>
  </StageSplit>
</template>

<style scoped>
.empty {
  padding: 24px 0;
}
.runs,
.machine {
  display: grid;
  gap: 8px;
}
.machine {
  margin-top: 12px;
  justify-items: start;
}
.machine label {
  display: grid;
  gap: 2px;
  color: var(--soft);
  font-size: 13px;
}
</style>
