<script setup lang="ts">
import { ElOption, ElRadioButton, ElRadioGroup, ElSelect, ElTabPane, ElTabs } from 'element-plus'
import { computed, ref, watch } from 'vue'
import {
  isLeftOut,
  settingsOfSweeps,
  stopName,
  stopsOf,
  verdictOf,
  type CompareRequest,
  type Mismatch,
  type Quantity,
} from '@yuzumix/core'
import { grouped, plain } from '@/parts/numbers/format'
import CompareStack from '@/parts/compare/CompareStack.vue'
import NotAlike from '@/parts/compare/NotAlike.vue'
import { useComparisons } from '@/parts/compare/useComparisons'
import SetSelect from '@/parts/choose/SetSelect.vue'
import StopSelect from '@/parts/choose/StopSelect.vue'
import { useFieldQuestion } from '@/job/useFieldQuestion'
import StageSplit from '@/parts/frame/StageSplit.vue'
import { useDisplay } from '@/stores/display'
import { useJob } from '@/job/openJob'
import RunSettings from './RunSettings.vue'
import type { Spark } from './useSpark'

/** Sweeps at one setting after the other, laid over each other; or one map, or set of advance springs, against another. */
const props = defineProps<{ spark: Spark }>()
const open = useJob()
const display = useDisplay()
const { options: field } = useFieldQuestion()
const { settings } = props.spark

/** Share of falsely shaded speeds to put up with: here "no difference shown" is an answer, too. */
const RATE = 0.03
const quantity = ref<Quantity>('torque')
const chosenStop = ref<number | 'all' | null | undefined>(undefined)
const stops = computed(() => stopsOf(open.runs.filter((run) => run.set === open.set?.id && !isLeftOut(run))))
const stop = computed(() => stops.value.find((one) => one.stop === chosenStop.value) ?? stops.value[0] ?? null)
const groups = computed(() => (stop.value ? settingsOfSweeps(stop.value.runs) : []))

/** What it is compared with: the setting in use, or another set whole. */
const NOW = 'now'
const against = ref(NOW)
const others = computed(() => open.sets.filter((one) => one.id !== open.set?.id && !one.figures))
/** The setting in use: as it was said, else the one that was run first. */
const present = computed(() => {
  const said = settings.value.present
  const first = stop.value?.runs[0]
  return (
    groups.value.find((one) => said !== null && Math.abs(one.advance - said) < 0.4) ??
    groups.value.find((one) => first && one.runs.includes(first)) ??
    groups.value[0] ??
    null
  )
})
const chosen = ref<number | null>(null)
/** Against another set, the setting in use stands for this one: its other settings are not what it would be run at. */
const compared = computed(() =>
  against.value === NOW ? groups.value.filter((one) => one !== present.value) : groups.value,
)
const looked = computed(
  () =>
    compared.value.find((one) => one.advance === chosen.value) ??
    (against.value === NOW ? compared.value.at(-1) : present.value) ??
    null,
)
watch(against, () => (chosen.value = null))
const accepted = ref<Mismatch['what'][]>([])
watch([against, () => open.set?.id, stop], () => (accepted.value = []))

const wishes = computed<CompareRequest[]>(() => {
  if (!open.set || !stop.value) return []
  const base = {
    second: open.set.id,
    stop: stop.value.stop,
    quantity: quantity.value,
    correction: open.job!.power.correction,
    smoothing: open.job!.power.smoothing,
    accept: accepted.value,
    rate: RATE,
  }
  if (against.value !== NOW)
    return [{ ...base, first: [against.value], settings: { first: null, second: looked.value?.advance ?? null } }]
  return compared.value.map((one) => ({
    ...base,
    first: [open.set!.id],
    settings: { first: present.value!.advance, second: one.advance },
  }))
})
const { outcomes, busy } = useComparisons(() => open.job!.id, wishes)
const at = computed(() => (against.value !== NOW ? 0 : compared.value.findIndex((one) => one === looked.value)))
const outcome = computed(() => outcomes.value[at.value] ?? null)
const shown = computed(() => outcome.value?.compared ?? null)
const rest = computed(() =>
  outcomes.value.flatMap((one) => (one !== outcome.value && one.compared ? [one.compared] : [])),
)
const verdict = computed(() => shown.value && verdictOf(shown.value.comparison))
const over = computed(() => {
  const span = verdict.value?.over
  return span ? `from ${grouped(span.fromRpm)} to ${grouped(span.toRpm)} rpm` : ''
})
const tab = ref('verdict')
</script>

<template>
  <StageSplit label="Runs at settings" drawer-label="Verdict and settings" :problem="outcome?.problem ?? ''">
    <template #bar>
      <slot name="switch" />
      <SetSelect v-if="open.sets.length > 1" />
      <StopSelect v-model="chosenStop" :stops="stops" :shown="stop?.stop" />
      <ElRadioGroup v-model="quantity" size="small" aria-label="Quantity">
        <ElRadioButton value="torque">Torque</ElRadioButton>
        <ElRadioButton value="power">Power</ElRadioButton>
      </ElRadioGroup>
      <span v-if="busy" class="soft" role="status">Working …</span>
    </template>
    <div class="line">
      <label
        >Against
        <ElSelect v-model="against" size="small" aria-label="Compared with" class="against">
          <ElOption
            :value="NOW"
            :label="present ? `the setting now, ${plain(present.advance, 1)}°` : 'the setting now'"
          />
          <ElOption v-for="one in others" :key="one.id" :value="one.id" :label="`set: ${one.name}`" />
        </ElSelect>
      </label>
      <ElRadioGroup
        v-if="compared.length"
        :model-value="looked?.advance"
        size="small"
        aria-label="Setting explained"
        @update:model-value="chosen = Number($event)"
      >
        <ElRadioButton v-for="one in compared" :key="one.advance" :value="one.advance"
          >{{ plain(one.advance, 1) }}° ({{ one.runs.length }})</ElRadioButton
        >
      </ElRadioGroup>
    </div>
    <CompareStack v-if="shown && field" :compared="shown" :others="against === NOW ? rest : []" :grid="field.grid" />
    <div v-else-if="outcome?.refused.length" class="waiting">
      <NotAlike :refused="outcome.refused" :accepted="accepted" @accept="accepted = $event">
        A difference of rigs, gears or corrections would be taken for one of the spark.
      </NotAlike>
    </div>
    <div v-else class="waiting soft">
      <p v-if="busy">Working …</p>
      <p v-else-if="stops.length === 0">There are no sweeps in this set. Add logs under Baseline, or run the plan.</p>
      <p v-else-if="!outcome?.problem">
        All sweeps at {{ stopName(stop?.stop ?? null) }} were made at one setting, or nobody said at which. Say it
        beside each run on the right, or choose another set to compare with.
      </p>
    </div>
    <template #drawer>
      <ElTabs v-model="tab">
        <ElTabPane label="Verdict" name="verdict">
          <div v-if="shown && verdict" class="panel">
            <p>
              <strong v-if="verdict.verdict === 'no difference shown'"
                >No difference shown {{ over
                }}<template v-if="verdict.sees !== null"
                  >; one below {{ plain(verdict.sees * display.factorOf(quantity), 1) }}
                  {{ display.unitOf(quantity) }} would not have shown</template
                >.</strong
              >
              <strong v-else-if="verdict.verdict === 'not told'"
                >Not told: an interval needs two runs on each side, better three.</strong
              >
              <strong v-else
                >{{ { more: 'More', less: 'Less', 'more here, less there': 'More here, less there' }[verdict.verdict] }}
                {{ quantity }} with {{ shown.second.name }} than with {{ shown.first.name }}.</strong
              >
            </p>
            <dl class="facts figures">
              <template v-for="one in verdict.spans" :key="one.fromRpm">
                <dt>{{ grouped(one.fromRpm) }} to {{ grouped(one.toRpm) }}</dt>
                <dd>{{ display.difference(quantity, one.difference) }} {{ display.unitOf(quantity) }}, real</dd>
              </template>
              <template v-if="verdict.sees !== null">
                <dt>seen from</dt>
                <dd>±{{ plain(verdict.sees * display.factorOf(quantity), 1) }} {{ display.unitOf(quantity) }} up</dd>
              </template>
              <dt>runs</dt>
              <dd>{{ shown.first.runs }} and {{ shown.second.runs }}</dd>
            </dl>
            <p v-if="verdict.verdict === 'no difference shown'" class="soft small">
              To see less than that, repeat each setting three times at least.
            </p>
            <p v-for="one in shown.mismatches" :key="one.message" class="note">{{ one.message }}</p>
            <p v-if="verdict.spans.length && verdict.verdict !== 'less'" class="soft small">
              A gain in one part and a loss in another is the rule: see where the machine is used, under Fit, One knob.
            </p>
          </div>
          <p v-else class="soft">The verdict stands here once two settings, or two sets, are compared.</p>
        </ElTabPane>
        <ElTabPane label="Settings of runs" name="runs"><RunSettings :spark="spark" /></ElTabPane>
      </ElTabs>
    </template>
  </StageSplit>
</template>

<style scoped>
.line {
  display: flex;
  gap: 16px;
  align-items: center;
  flex: none;
  min-height: 28px;
}
.line label {
  display: flex;
  gap: 8px;
  align-items: center;
  color: var(--soft);
}
.against {
  width: 220px;
}
.panel {
  display: grid;
  gap: 10px;
}
.note {
  padding: 8px 10px;
  border-left: 4px solid var(--yuzu);
  background: var(--yuzu-soft);
}
</style>
