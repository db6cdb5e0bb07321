<script setup lang="ts">
import { ElButton, ElRadioButton, ElRadioGroup, ElTabPane, ElTabs } from 'element-plus'
import { computed, ref, watch } from 'vue'
import { useMediaQuery } from '@vueuse/core'
import { useRouter } from 'vue-router'
import { besideQuestion, cellAt, sweepOf, uncalibratedIn } from '@yuzumix/core'
import ChoiceSelect from '@/parts/choose/ChoiceSelect.vue'
import { counted, grouped, signed } from '@/parts/numbers/format'
import { useJob } from '@/job/openJob'
import { notifyProblem } from '@/api/notify'
import ExportButtons from '@/parts/chart/ExportButtons.vue'
import { useDisplay } from '@/stores/display'
import DropLogs from '@/parts/intake/DropLogs.vue'
import StageSplit from '@/parts/frame/StageSplit.vue'
import MixtureStack from './MixtureStack.vue'
import BesideTable from './BesideTable.vue'
import CellPanel from './CellPanel.vue'
import RowList from './RowList.vue'
import RunsPanel from './RunsPanel.vue'
import SettingsPanel from './SettingsPanel.vue'
import { useFieldQuestion } from '@/job/useFieldQuestion'
import { loader } from '@/job/loader'
import { useLookedAt } from '@/job/lookedAt'
import { useQuestion } from '@/job/useQuestion'
import { useAnswer } from '@/workers/useAnswer'
import { useSelectedCell } from './useSelectedCell'
import { useStaleMixture } from './useStaleMixture'
import { useField } from '@/workers/useField'

const open = useJob()
const display = useDisplay()
const isPhone = useMediaQuery('(max-width: 700px)')
const method = ref<'solve' | 'nearest'>('solve')
const { question, runs, options, fault } = useFieldQuestion(method)
const work = useField(() => open.job!.id, question)
/** Runs of the set that were made on older revisions of the table. */
const older = computed(() => question.value?.older.length ?? 0)
const { field, problem, busy, slow, quick, loaded, cancel } = work
const { cylinderNumber, cylinder, selected, row, traces, explanation } = useSelectedCell(work, options)

const looked = useLookedAt()
const router = useRouter()
// A cell that was looked at in a log is selected here.
watch(
  options,
  (now) => {
    if (!now || !looked.cell) return
    selected.value = cellAt(now.grid, looked.cell.rpm, looked.cell.load)
    looked.cell = null
  },
  { immediate: true },
)
/** Shows when a run fed the selected cell, in its log. */
function showInLog(id: string): void {
  const { grid } = options.value!
  if (selected.value) looked.cell = { rpm: grid.rpm[selected.value.column]!, load: grid.load[selected.value.row]! }
  looked.run = sweepOf(id).run
  void router.push({ name: 'baseline', params: { job: open.job!.id, view: 'log' } })
}

/** What was read beside the mixture: how steady it is, exhaust gas, duty. */
const besides = useQuestion(
  (ground) => (runs.value.length ? besideQuestion(ground, loader, { runs: runs.value.map((run) => run.id) }) : null),
  () => runs.value,
)
const { answer: beside } = useAnswer(() => open.job!.id, 'beside', besides.question)

const { stale } = useStaleMixture(
  computed(() => options.value?.grid ?? null),
  runs,
)
const staleNodes = computed(
  () =>
    stale.value.flatMap((cells, r) => cells.filter((one, c) => one && cylinder.value?.lambda[r]?.[c] != null)).length,
)
/** Runs of the set that the field stands on. */
const setRuns = computed(() => open.runs.filter((run) => run.set === open.setOfField))
const highlighted = ref('')
const tab = ref('cell')
watch(selected, (now) => now && (tab.value = 'cell'))

const stack = ref<InstanceType<typeof MixtureStack>>()
const chartText = computed(() => ({
  title: `${open.job!.title}: mixture${field.value && field.value.cylinders.length > 1 ? `, ${open.cylinderName(cylinder.value?.cylinder ?? 1)}` : ''}`,
  lines: [
    `Mixture in ${display.mixtureUnit} against target; numbers are the fuel needed in %. Set: ${open.sets.find((set) => set.id === open.setOfField)?.name ?? 'none'}; ${counted(runs.value.length, 'run')}.`,
    method.value === 'solve' && field.value
      ? `Lag ${Math.round(field.value.lag.lag * 1000)} ms; area of a cell is its evidence; band is the 90 % interval.`
      : 'Nearest-cell average: readings as they stand, no lag, nothing set aside.',
  ],
  fileName: `${open.job!.title} mixture`,
}))

const uncalibrated = computed(() => runs.value.filter((run) => uncalibratedIn(run).length > 0).length)
const counts = computed(() => {
  const grades = cylinder.value?.evidence.flat() ?? []
  const count = (grade: string): number => grades.filter((one) => one === grade).length
  return { solid: count('solid'), thin: count('thin'), bridged: count('bridged'), none: count('none') }
})
const about = computed(() => {
  const at = selected.value
  if (!at || !cylinder.value || !field.value) return 'No cell is selected.'
  const change = cylinder.value.changePct[at.row]?.[at.column]
  return `${grouped(field.value.grid.rpm[at.column]!)} rpm, load ${field.value.grid.load[at.row]}: ${change === null || change === undefined ? 'no evidence' : `${signed(change)} %`}.`
})

/** Previous or next run among those of this throttle stop. */
function stepRun(step: 1 | -1): void {
  const ids = traces.value.map((trace) => trace.id)
  if (ids.length === 0) return
  const at = ids.indexOf(highlighted.value)
  highlighted.value = ids[(at + step + ids.length + (at < 0 && step < 0 ? 1 : 0)) % ids.length]!
  tab.value = 'runs'
}
</script>

<template>
  <div v-if="open.runs.length === 0" class="empty">
    <h1>Mixture</h1>
    <p>The field is worked out from logs. Drop the first one anywhere on this page.</p>
    <DropLogs />
  </div>
  <StageSplit v-else label="Mixture field" drawer-label="Evidence" :problem="fault || problem">
    <template #bar>
      <ElRadioGroup v-model="method" size="small" aria-label="Method">
        <ElRadioButton value="solve">Field</ElRadioButton>
        <ElRadioButton value="nearest">Nearest-cell average</ElRadioButton>
      </ElRadioGroup>
      <ElRadioGroup
        v-if="field && field.cylinders.length > 1"
        v-model="cylinderNumber"
        size="small"
        aria-label="Cylinder"
      >
        <ElRadioButton v-for="one in field.cylinders" :key="one.cylinder" :value="one.cylinder">{{
          open.cylinderName(one.cylinder)
        }}</ElRadioButton>
      </ElRadioGroup>
      <ChoiceSelect
        v-if="open.sets.length > 1"
        :model-value="open.setOfField ?? undefined"
        class="set"
        name="Set the field stands on"
        @update:model-value="open.chooseMixture({ set: $event })"
        :choices="open.sets.map((set) => ({ value: set.id, label: `${set.name} (${set.runCount})` }))"
      />
      <span v-if="uncalibrated" class="uncalibrated" role="note" :title="counted(uncalibrated, 'run')"
        >uncalibrated</span
      >
      <span
        v-if="older"
        class="uncalibrated"
        role="note"
        title="Made on older revisions of the table: readings of other fuelling"
        >{{ counted(older, 'older run') }} left out</span
      >
      <span v-if="staleNodes" class="uncalibrated" role="note" title="Spark moved there since the runs were made"
        >{{ counted(staleNodes, 'cell') }} stale: spark moved</span
      >
      <span class="space" />
      <span v-if="slow" role="status" class="status"
        >{{ loaded < 1 ? `Fetching runs ${Math.round(loaded * 100)} %` : 'Solving …' }}
        <ElButton size="small" @click="cancel">Stop</ElButton></span
      >
      <span v-else-if="field" class="soft status figures">
        <template v-if="method === 'solve' && cylinder"
          >{{ quick ? 'quick look · ' : '' }}{{ counts.solid }} solid, {{ counts.thin }} thin,
          {{ counts.bridged }} bridged · lag {{ Math.round(field.lag.lag * 1000) }} ms</template
        >
        <template v-else>readings as they stand, no lag, nothing set aside</template>
      </span>
      <ExportButtons v-if="field && !slow" :chart="() => stack?.svg" :text="chartText" @failed="notifyProblem" />
    </template>
    <MixtureStack
      v-if="field && cylinder"
      ref="stack"
      v-model:selected="selected"
      :field="field"
      :cylinder="cylinder"
      :traces="traces"
      :row="row"
      :highlighted="highlighted"
      :about="about"
      @run="stepRun"
    />
    <div v-else class="waiting soft">
      {{ busy ? 'Working out the field …' : runs.length ? '' : 'No run is chosen. Choose some at the right.' }}
    </div>
    <p class="legend soft">
      <span class="swatch lean" /> needs fuel (lean) <span class="swatch on" /> on target
      <span class="swatch rich" /> has too much (rich) · area: evidence · outline: between readings · hatched: closed
      loop · !: no answer · dot: not read
    </p>
    <RowList v-if="isPhone && field && cylinder" v-model:selected="selected" :field="field" :cylinder="cylinder" />
    <p class="sr-only" aria-live="polite">{{ about }}</p>
    <template #drawer>
      <ElTabs v-model="tab">
        <ElTabPane label="Cell" name="cell"
          ><CellPanel
            v-if="field && cylinder"
            :field="field"
            :cylinder="cylinder"
            :at="selected"
            :explanation="explanation"
            :runs="open.runs"
            :cylinder-name="open.cylinderName"
            :beside="beside"
            @log="showInLog"
            :stale="(selected && stale[selected.row]?.[selected.column]) ?? null"
        /></ElTabPane>
        <ElTabPane label="Heat and duty" name="beside"
          ><BesideTable v-if="beside && options" :beside="beside" :grid="options.grid" @select="selected = $event"
        /></ElTabPane>
        <ElTabPane :label="`Runs (${runs.length} of ${setRuns.length})`" name="runs"
          ><RunsPanel v-model:highlighted="highlighted" :field="field" :runs="setRuns"
        /></ElTabPane>
        <ElTabPane label="Target and filters" name="settings"
          ><SettingsPanel :field="field" :grid="options?.grid ?? null"
        /></ElTabPane>
      </ElTabs>
    </template>
  </StageSplit>
</template>

<style scoped>
.uncalibrated {
  padding: 1px 6px;
  background: var(--yuzu);
  color: #22281f;
  border-radius: 4px;
}
.set {
  width: 160px;
}
.status {
  white-space: nowrap;
}
.waiting {
  flex: 1;
  display: grid;
  place-items: center;
}
.legend {
  font-size: 12px;
  min-height: 18px;
  flex: none;
}
.swatch {
  display: inline-block;
  width: 11px;
  height: 11px;
  margin: 0 2px -1px 6px;
  border: 1px solid var(--line-strong);
}
.swatch.lean {
  background: #e08f37;
}
.swatch.on {
  background: var(--on-target);
}
.swatch.rich {
  background: #8a7ab8;
}
.empty {
  padding: 32px 48px;
  display: grid;
  gap: 16px;
  max-width: 760px;
}
</style>
