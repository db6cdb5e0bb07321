<script setup lang="ts">
import { ElButton, ElTabPane, ElTabs } from 'element-plus'
import { computed, ref, watch } from 'vue'
import { correctionById, stopName, sweepOf, type OddRun, type RunInfo } from '@yuzumix/core'
import ExportButtons from '@/parts/chart/ExportButtons.vue'
import { notifyProblem } from '@/api/notify'
import { useFieldQuestion } from '@/job/useFieldQuestion'
import StageSplit from '@/parts/frame/StageSplit.vue'
import { useJob } from '@/job/openJob'
import { useOverlay } from '@/workers/useOverlay'
import SetSelect from '@/parts/choose/SetSelect.vue'
import StopSelect from '@/parts/choose/StopSelect.vue'
import ViewSwitch from '@/stages/baseline/ViewSwitch.vue'
import FiguresPanel from './FiguresPanel.vue'
import OverlayStack from './OverlayStack.vue'
import RunList from './RunList.vue'
import SetPanel from './SetPanel.vue'
import { useOverlayWish } from './useOverlayWish'
import { counted } from '@/parts/numbers/format'

const open = useJob()
const { options: field } = useFieldQuestion()
const chosen = ref<number | 'all' | null | undefined>(undefined)
const { runs, stops, stop, conditions, correction, wish } = useOverlayWish(chosen, field)
const { overlays, held, problem, slow, loaded, cancel } = useOverlay(() => open.job!.id, wish)

const front = ref('')
const tab = ref('runs')
const shownStops = computed(() => wish.value?.stops ?? [])
const findings = computed(() => {
  const odd = new Map<string, OddRun[]>()
  const warm = new Map<string, string>()
  for (const one of overlays.value) {
    for (const each of one?.odd ?? []) {
      const { run } = sweepOf(each.run)
      odd.set(run, [...(odd.get(run) ?? []), each])
    }
    for (const each of one?.warmUps ?? []) {
      const { run, sweep } = sweepOf(each.run)
      warm.set(run, sweep === null ? each.why : `sweep ${sweep}, ${each.why}`)
    }
  }
  return { odd, warm }
})
const torqueFaults = computed(() => [
  ...new Set(overlays.value.flatMap((one) => one?.curves.flatMap((curve) => curve.torqueFault || []) ?? [])),
])
const printed = computed(() => `${correction.value.label} · smoothed over ±${open.job!.power.smoothing} rpm`)
const warnings = computed(() =>
  [
    open.job!.power.correction !== 'none' && overlays.value.some((one) => one?.curves.some((curve) => curve.torque))
      ? correction.value.warning
      : null,
    conditions.value?.mixed,
    ...torqueFaults.value,
  ].filter(Boolean),
)

/** Runs of the stop shown come first. */
const listed = computed(() => {
  const here = new Set(shownStops.value.flatMap((one) => one.runs))
  return [...runs.value.filter((run) => here.has(run)), ...runs.value.filter((run) => !here.has(run))]
})

/** A run of another stop brings its stop along. */
function showRun(run: RunInfo): void {
  front.value = front.value === run.id ? '' : run.id
  const at = stops.value.find((one) => one.runs.some((each) => each.id === run.id))
  if (at && stop.value !== 'all') chosen.value = at.stop
}
function stepRun(step: 1 | -1): void {
  const ids = shownStops.value.flatMap((one) => one.runs.map((run) => run.id))
  if (ids.length === 0) return
  const at = ids.indexOf(front.value)
  front.value = ids[(at + step + ids.length + (at < 0 && step < 0 ? 1 : 0)) % ids.length]!
  tab.value = 'runs'
}
watch(
  () => open.set?.id,
  () => ([front.value, chosen.value] = ['', undefined]),
)

// Without weather nothing is corrected, whatever standard was chosen.
const isCorrected = computed(() => correction.value.label !== 'uncorrected')
const stack = ref<InstanceType<typeof OverlayStack>>()
const chartText = computed(() => ({
  title: `${open.job!.title}: ${open.set?.name ?? ''}, ${stop.value === 'all' ? 'all stops' : stopName(stop.value ?? null)}`,
  lines: [
    `${printed.value}. ${open.set?.setup ? `${open.set.setup}. ` : ''}Rig: ${open.set?.rig || 'not said'}, gear: ${conditions.value?.gear ?? 'not said'}.`,
    `${counted(
      shownStops.value.reduce((sum, one) => sum + one.sweeps, 0),
      'run',
    )}; band: lowest to highest.${isCorrected.value ? ` ${correctionById(open.job!.power.correction).name}: ${correctionById(open.job!.power.correction).reference}.` : ''}`,
  ],
  fileName: `${open.job!.title} ${open.set?.name ?? ''} ${stop.value === 'all' ? 'all stops' : stopName(stop.value ?? null)}`,
}))
</script>

<template>
  <StageSplit label="Runs laid over each other" drawer-label="Runs" :problem="problem">
    <template #bar>
      <ViewSwitch />
      <SetSelect />
      <StopSelect v-model="chosen" :stops="stops" :shown="stop" with-all />
      <span class="space" />
      <span v-if="slow" role="status" class="status"
        >{{ loaded < 1 ? `Fetching runs ${Math.round(loaded * 100)} %` : 'Working …' }}
        <ElButton size="small" @click="cancel">Stop</ElButton></span
      >
      <ExportButtons v-else-if="overlays.length" :chart="() => stack?.svg" :text="chartText" @failed="notifyProblem" />
    </template>
    <OverlayStack
      v-if="field && wish"
      ref="stack"
      :stops="shownStops"
      :overlays="overlays"
      :held="held"
      :grid="field.grid"
      :front="front"
      :printed="printed"
      :rigged="`${open.set?.rig || 'rig not said'} · gear ${conditions?.gear ?? 'not said'}`"
      @run="stepRun"
    />
    <p v-else class="waiting soft">
      {{
        runs.length
          ? 'No sweep in this set can be laid over others. Holds, road runs and hand readings still feed the mixture.'
          : 'This set has no runs yet. Add logs at the right; they go to the newest set.'
      }}
    </p>
    <p class="legend soft">
      <span class="key mean" /> mean <span class="key band" /> lowest to highest <span class="key run" /> runs
      <span class="key odd" /> odd run <span class="key warm" /> warm-up · [ and ] step through the runs
    </p>
    <template #drawer>
      <ElTabs v-model="tab">
        <ElTabPane :label="`Runs (${runs.length})`" name="runs">
          <RunList :runs="listed" :front="front" :odd="findings.odd" :warm="findings.warm" @show="showRun" />
        </ElTabPane>
        <ElTabPane label="Figures" name="figures">
          <FiguresPanel :stops="shownStops" :overlays="overlays" :correction="correction.label" />
        </ElTabPane>
        <ElTabPane label="Set and air" name="set"
          ><SetPanel v-if="open.set" :key="open.set.id" :set="open.set" :conditions="conditions"
        /></ElTabPane>
      </ElTabs>
      <!-- Below, for they come when the runs are worked out, and must move nothing that a hand is about to press. -->
      <div class="warnings">
        <p v-for="warning in warnings" :key="String(warning)" class="warning" role="note">{{ warning }}</p>
      </div>
    </template>
  </StageSplit>
</template>

<style scoped>
.status {
  white-space: nowrap;
}
.warnings {
  position: sticky;
  /* Down to the drawer's edge: nothing of what scrolls shows below. */
  bottom: -16px;
  padding-bottom: 16px;
  margin-bottom: -16px;
  background: var(--paper);
}
.warning {
  margin: 8px 0 0;
  padding: 6px 10px;
  border-left: 4px solid var(--yuzu);
  background: var(--yuzu-soft);
  font-size: 13px;
}
.legend {
  font-size: 12px;
  height: 18px;
  flex: none;
  white-space: nowrap;
  overflow: hidden;
}
.key {
  display: inline-block;
  width: 20px;
  height: 0;
  margin: 0 3px 3px 8px;
  border-top: 2px solid var(--line-strong);
}
.key.mean {
  border-top: 3px solid var(--leaf);
}
.key.band {
  border-top: 8px solid color-mix(in srgb, var(--leaf) 20%, transparent);
  margin-bottom: 0;
}
.key.odd {
  border-top: 2px dashed var(--lean);
}
.key.warm {
  border-top: 2px dotted var(--soft);
}
</style>
