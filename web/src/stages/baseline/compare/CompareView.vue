<script setup lang="ts">
import {
  ElButton,
  ElInput,
  ElOption,
  ElOptionGroup,
  ElRadioButton,
  ElRadioGroup,
  ElSelect,
  ElTabPane,
  ElTabs,
} from 'element-plus'
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import {
  correctionById,
  CORRECTIONS,
  stopName,
  stopsOf,
  type CompareRequest,
  type CorrectionId,
  type Job,
  type Mismatch,
  type Quantity,
  type RunSet,
} from '@yuzumix/core'
import { api } from '@/api/client'
import { sayProblem } from '@/api/say'
import ExportButtons from '@/parts/chart/ExportButtons.vue'
import { useFieldOptions } from '@/job/useFieldOptions'
import StageSplit from '@/parts/frame/StageSplit.vue'
import { useDisplay } from '@/stores/display'
import { useJob } from '@/job/openJob'
import StopSelect from '@/parts/choose/StopSelect.vue'
import ViewSwitch from '@/stages/baseline/ViewSwitch.vue'
import { readBands, readSpeeds, thirds } from './bandText'
import CompareStack from '@/parts/compare/CompareStack.vue'
import FiguresDialog from './FiguresDialog.vue'
import GainsPanel from './GainsPanel.vue'
import HeldCompared from './HeldCompared.vue'
import NotAlike from '@/parts/compare/NotAlike.vue'
import { useComparisons } from '@/parts/compare/useComparisons'
import { counted } from '@/parts/numbers/format'

const open = useJob()
const display = useDisplay()
const { options: field } = useFieldOptions()

const elsewhere = shallowRef<{ title: string; sets: RunSet[] }[]>([])
onMounted(async () => {
  try {
    const [jobs, sets] = await Promise.all([api.jobs(), api.allSets()])
    elsewhere.value = jobs
      .filter((job: Job) => job.id !== open.job!.id)
      .map((job: Job) => ({ title: job.title, sets: sets.filter((set) => set.job === job.id) }))
      .filter((one) => one.sets.length > 0)
  } catch (error) {
    sayProblem(error)
  }
})
const first = ref<string[]>(open.sets.length > 1 ? [open.sets.at(-2)!.id] : [])
/** Sets compared with the first; the drawer explains the one looked at. */
const seconds = ref<string[]>(open.sets.length ? [open.sets.at(-1)!.id] : [])
const lookedAt = ref('')
const second = computed(() => (seconds.value.includes(lookedAt.value) ? lookedAt.value : (seconds.value[0] ?? '')))
const quantity = ref<Quantity>('torque')
const accepted = ref<Mismatch['what'][]>([])
const chosenStop = ref<number | 'all' | null | undefined>(undefined)
const stops = computed(() => stopsOf(open.runs.filter((run) => run.set === second.value)))
const stop = computed(() => stops.value.find((one) => one.stop === chosenStop.value)?.stop ?? stops.value[0]?.stop)
const span = computed(() => {
  const facts = stops.value.find((one) => one.stop === stop.value)?.runs.flatMap((run) => run.facts ?? []) ?? []
  if (facts.length === 0) return null
  return { from: Math.min(...facts.map((one) => one.fromRpm)), to: Math.max(...facts.map((one) => one.toRpm)) }
})
const bandsText = ref('')
const atText = ref('')
watch(
  span,
  (now) => {
    if (now && bandsText.value === '') bandsText.value = thirds(Math.max(2500, now.from), now.to - 300)
  },
  { immediate: true },
)
const bands = computed(() => readBands(bandsText.value))
const speeds = computed(() => readSpeeds(atText.value))
// What was accepted for two sets says nothing about two others.
watch([first, seconds], () => (accepted.value = []))

const wish = computed<CompareRequest | null>(() => {
  if (!second.value || first.value.length === 0 || stop.value === undefined) return null
  return {
    first: first.value,
    second: second.value,
    stop: stop.value,
    quantity: quantity.value,
    correction: open.job!.power.correction,
    smoothing: open.job!.power.smoothing,
    bands: typeof bands.value === 'string' ? [] : bands.value,
    at: typeof speeds.value === 'string' ? [] : speeds.value,
    accept: accepted.value,
  }
})
const wishes = computed(() => (wish.value ? seconds.value.map((id) => ({ ...wish.value!, second: id })) : []))
const { outcomes, busy } = useComparisons(() => open.job!.id, wishes)
const outcome = computed(() => outcomes.value.find((one) => one.second === second.value) ?? null)
const compared = computed(() => outcome.value?.compared ?? null)
const refused = computed(() => outcome.value?.refused ?? [])
const problem = computed(() => outcome.value?.problem ?? '')
const others = computed(() =>
  outcomes.value.flatMap((one) => (one.second !== second.value && one.compared ? [one.compared] : [])),
)
const setCorrection = (correction: CorrectionId): Promise<void> =>
  open.change({ power: { ...open.job!.power, correction } }).catch(sayProblem)

const nameOf = (id: string): string =>
  [...open.sets, ...elsewhere.value.flatMap((one) => one.sets)].find((set) => set.id === id)?.name ?? 'a set'

const tab = ref('gains')
const entering = ref(false)
const stack = ref<InstanceType<typeof CompareStack>>()
const chartText = computed(() => {
  const { correction, smoothing } = open.job!.power
  const [a, b] = [compared.value?.first, compared.value?.second]
  return {
    title: `${open.job!.title}: ${b?.name} against ${a?.name}, ${stopName(stop.value ?? null)}`,
    lines: [
      `${quantity.value}, ${display.unitOf(quantity.value)}${quantity.value === 'lambda' ? '' : `; ${a?.correction} and ${b?.correction}`}; smoothed over ±${smoothing} rpm; ${counted(a?.runs ?? 0, 'run')} and ${counted(b?.runs ?? 0, 'run')}.`,
      `Difference with 90 % interval over runs, shaded only where real. ${correctionById(correction).name}: ${correctionById(correction).reference}.`,
    ],
    fileName: `${open.job!.title} ${b?.name} against ${a?.name}`,
  }
})
</script>

<template>
  <StageSplit label="Comparison of sets" drawer-label="Gains" :problem="problem">
    <template #bar>
      <ViewSwitch />
      <ElRadioGroup v-model="quantity" size="small" aria-label="Quantity">
        <ElRadioButton value="torque">Torque</ElRadioButton>
        <ElRadioButton value="power">Power</ElRadioButton>
        <ElRadioButton value="lambda">Mixture</ElRadioButton>
      </ElRadioGroup>
      <StopSelect v-model="chosenStop" :stops="stops" :shown="stop" />
      <span class="space" />
      <span v-if="busy" class="soft" role="status">Working …</span>
      <ExportButtons v-else-if="compared" :chart="() => stack?.svg" :text="chartText" @failed="sayProblem" />
    </template>
    <div class="sides">
      <label
        >Before
        <ElSelect
          v-model="first"
          size="small"
          multiple
          collapse-tags
          collapse-tags-tooltip
          aria-label="First set, or several stock machines"
          placeholder="choose a set"
        >
          <ElOption
            v-for="set in open.sets.filter((one) => !seconds.includes(one.id))"
            :key="set.id"
            :value="set.id"
            :label="set.name"
          />
          <ElOptionGroup v-for="other in elsewhere" :key="other.title" :label="other.title">
            <ElOption v-for="set in other.sets" :key="set.id" :value="set.id" :label="set.name" />
          </ElOptionGroup>
        </ElSelect>
      </label>
      <label
        >After
        <ElSelect
          v-model="seconds"
          size="small"
          multiple
          collapse-tags
          collapse-tags-tooltip
          aria-label="Second set, or several"
          placeholder="choose a set"
        >
          <ElOption
            v-for="set in open.sets.filter((one) => !one.figures && !first.includes(one.id))"
            :key="set.id"
            :value="set.id"
            :label="set.name"
          />
          <ElOptionGroup v-for="other in elsewhere" :key="other.title" :label="other.title">
            <ElOption
              v-for="set in other.sets.filter((one) => !one.figures && !first.includes(one.id))"
              :key="set.id"
              :value="set.id"
              :label="set.name"
            />
          </ElOptionGroup>
        </ElSelect>
      </label>
      <label v-if="quantity !== 'lambda'"
        >Correction
        <ElSelect
          :model-value="open.job!.power.correction"
          size="small"
          aria-label="Correction standard"
          @update:model-value="setCorrection($event)"
        >
          <ElOption v-for="one in CORRECTIONS" :key="one.id" :value="one.id" :label="one.name" />
        </ElSelect>
      </label>
    </div>
    <CompareStack v-if="compared && field" ref="stack" :compared="compared" :others="others" :grid="field.grid" />
    <div v-else-if="refused.length" class="waiting">
      <NotAlike :refused="refused" :accepted="accepted" @accept="accepted = $event">
        Figures of different rigs, gears or corrections compared as if they were one mislead. Mend it under Runs, Set
        and air, or compare all the same: the difference stays called out.
      </NotAlike>
    </div>
    <p v-else class="waiting soft">
      {{
        busy
          ? 'Working …'
          : open.sets.length < 2 && first.length === 0
            ? 'A comparison needs two sets: begin a new set under Runs, Set and air, when something is changed, or choose a set of another job above.'
            : problem
              ? ''
              : 'Choose what to compare above. Several sets before stand for stock machines: mean and spread over machines.'
      }}
    </p>
    <template #drawer>
      <ElTabs v-model="tab">
        <ElTabPane label="Gains" name="gains">
          <ElRadioGroup
            v-if="seconds.length > 1"
            :model-value="second"
            size="small"
            aria-label="Set explained"
            @update:model-value="lookedAt = String($event)"
          >
            <ElRadioButton v-for="id in seconds" :key="id" :value="id">{{ nameOf(id) }}</ElRadioButton>
          </ElRadioGroup>
          <GainsPanel v-if="compared" :compared="compared" :stop="stopName(stop ?? null)" />
          <p v-else class="soft">Gains stand here once two sets are compared.</p>
          <div class="choices">
            <label>Bands, rpm <ElInput v-model="bandsText" size="small" aria-label="Bands for mean and area" /></label>
            <p v-if="typeof bands === 'string'" class="fault" role="alert">{{ bands }}</p>
            <label
              >At rpm <ElInput v-model="atText" size="small" aria-label="Engine speeds" placeholder="4000 6000"
            /></label>
            <p v-if="typeof speeds === 'string'" class="fault" role="alert">{{ speeds }}</p>
            <ElButton size="small" @click="entering = true">Enter figures of stock machines</ElButton>
          </div>
        </ElTabPane>
        <ElTabPane label="Held zones" name="held"
          ><HeldCompared v-if="field" :grid="field.grid" :filters="field.filters" :sets="[...first, ...seconds]"
        /></ElTabPane>
      </ElTabs>
      <FiguresDialog v-if="entering" @close="entering = false" @made="first = [$event]" />
    </template>
  </StageSplit>
</template>

<style scoped>
.space {
  flex: 1;
}
.sides {
  display: grid;
  grid-template-columns: 2fr 1.4fr 1fr;
  gap: 12px;
  flex: none;
}
.sides label {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 8px;
  align-items: center;
  color: var(--soft);
}
.waiting {
  flex: 1;
  display: grid;
  place-items: center;
  text-align: center;
  padding: 24px;
}
.choices {
  display: grid;
  gap: 6px;
  justify-items: stretch;
  margin-top: 12px;
  font-size: 13px;
}
.fault {
  color: var(--alarm);
}
</style>
