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
import { computed, ref } from 'vue'
import { correctionById, CORRECTIONS, stopName, type CorrectionId } from '@yuzumix/core'
import ChoiceSelect from '@/parts/choose/ChoiceSelect.vue'
import { notifyProblem } from '@/api/notify'
import ExportButtons from '@/parts/chart/ExportButtons.vue'
import { useFieldQuestion } from '@/job/useFieldQuestion'
import StageSplit from '@/parts/frame/StageSplit.vue'
import { useDisplay } from '@/stores/display'
import { useJob } from '@/job/openJob'
import StopSelect from '@/parts/choose/StopSelect.vue'
import ViewSwitch from '@/stages/baseline/ViewSwitch.vue'
import { useCompareWish } from './useCompareWish'
import { useElsewhere } from './useElsewhere'
import CompareStack from '@/parts/compare/CompareStack.vue'
import FiguresDialog from './FiguresDialog.vue'
import GainsPanel from './GainsPanel.vue'
import HeldCompared from './HeldCompared.vue'
import NotAlike from '@/parts/compare/NotAlike.vue'
import { useComparisons } from '@/parts/compare/useComparisons'
import { counted } from '@/parts/numbers/format'

const open = useJob()
const display = useDisplay()
const { options: field } = useFieldQuestion()

const elsewhere = useElsewhere()
const {
  first,
  seconds,
  lookedAt,
  second,
  quantity,
  accepted,
  chosenStop,
  stops,
  stop,
  bandsText,
  atText,
  bands,
  speeds,
  wishes,
} = useCompareWish()
const { outcomes, busy } = useComparisons(() => open.job!.id, wishes)
const outcome = computed(() => outcomes.value.find((one) => one.second === second.value) ?? null)
const compared = computed(() => outcome.value?.compared ?? null)
const refused = computed(() => outcome.value?.refused ?? [])
const problem = computed(() => outcome.value?.problem ?? '')
const others = computed(() =>
  outcomes.value.flatMap((one) => (one.second !== second.value && one.compared ? [one.compared] : [])),
)
const setCorrection = (correction: CorrectionId): Promise<void> =>
  open.change({ power: { ...open.job!.power, correction } }).catch(notifyProblem)

const nameOf = (id: string): string =>
  [...open.sets, ...elsewhere.value.flatMap((one) => one.sets)].find((set) => set.id === id)?.name ?? 'a set'

const tab = ref('gains')
const entering = ref(false)
const stack = ref<InstanceType<typeof CompareStack>>()
const chartText = computed(() => {
  const { correction, smoothing } = open.job!.power
  const [a, b] = [compared.value?.first, compared.value?.second]
  // Without weather nothing is corrected, whatever standard was chosen.
  const isCorrected = [a, b].some((side) => side && side.correction !== 'uncorrected')
  return {
    title: `${open.job!.title}: ${b?.name} against ${a?.name}, ${stopName(stop.value ?? null)}`,
    lines: [
      `${quantity.value}, ${display.unitOf(quantity.value)}${quantity.value === 'lambda' ? '' : `; ${a?.correction} and ${b?.correction}`}; smoothed over ±${smoothing} rpm; ${counted(a?.runs ?? 0, 'run')} and ${counted(b?.runs ?? 0, 'run')}.`,
      `Difference with 90 % interval over runs, shaded only where real.${isCorrected ? ` ${correctionById(correction).name}: ${correctionById(correction).reference}.` : ''}`,
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
      <ExportButtons v-else-if="compared" :chart="() => stack?.svg" :text="chartText" @failed="notifyProblem" />
    </template>
    <div class="sides">
      <label
        >Before
        <ElSelect
          v-model="first"
          size="small"
          multiple
          collapse-tags
          :max-collapse-tags="2"
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
          :max-collapse-tags="3"
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
        <ChoiceSelect
          :model-value="open.job!.power.correction"
          name="Correction standard"
          @update:model-value="setCorrection($event)"
          :choices="CORRECTIONS.map((one) => ({ value: one.id, label: one.name }))"
        />
      </label>
    </div>
    <CompareStack
      v-if="compared && field"
      ref="stack"
      :compared="compared"
      :others="others"
      :grid="field.grid"
      :stop="stop ?? null"
    />
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
              : first.length && seconds.length
                ? 'None of the sets after holds a sweep, or readings by hand at one opening over several speeds: that is what is compared.'
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
.sides {
  display: grid;
  grid-template-columns: 1.4fr 2fr minmax(180px, 0.8fr);
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
.choices {
  display: grid;
  gap: 6px;
  justify-items: stretch;
  margin-top: 12px;
  font-size: 13px;
}
</style>
