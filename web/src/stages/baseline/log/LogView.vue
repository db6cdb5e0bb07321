<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { computed, ref, watch } from 'vue'
import { cellAt, firstFrom, LOAD_UNITS } from '@yuzumix/core'
import { useRouter } from 'vue-router'
import { useLookedAt } from '@/job/lookedAt'
import { useJob } from '@/job/openJob'
import { useFieldQuestion } from '@/job/useFieldQuestion'
import ChoiceSelect from '@/parts/choose/ChoiceSelect.vue'
import StageSplit from '@/parts/frame/StageSplit.vue'
import { grouped, plain } from '@/parts/numbers/format'
import { useDisplay } from '@/stores/display'
import ViewSwitch from '@/stages/baseline/ViewSwitch.vue'
import { figureOf, type Lane, type Span } from './drawLog'
import LeavePanel from './LeavePanel.vue'
import LogCanvas from './LogCanvas.vue'
import LogCells from './LogCells.vue'
import LogChannels from './LogChannels.vue'
import LogStretches from './LogStretches.vue'
import { useLog } from './useLog'

/** A run over its seconds: channels chosen by eye, its stretches, and what does not count and why. */
const open = useJob()
const { options } = useFieldQuestion()
const {
  run,
  chosen,
  time,
  lanes: stored,
  all: allStored,
  shown,
  shaded,
  fed,
  stretches,
  view,
  whole,
  problem,
  busy,
  change,
  changeRun,
} = useLog(() => options.value)
const at = ref<number | null>(null)
const brushed = ref<Span | null>(null)
const stretch = ref<string | null>(null)
watch(
  () => run.value?.id,
  () => ([at.value, brushed.value, stretch.value] = [null, null, null]),
)

const row = computed(() => (at.value === null ? -1 : Math.min(time.value.length - 1, firstFrom(time.value, at.value))))
const display = useDisplay()
/** Lanes as they are read: a mixture in the unit that is shown everywhere. */
const asRead = (lane: Omit<Lane, 'figure'>): Lane =>
  /^(lambda\d|commanded)$/.test(lane.channel)
    ? { ...lane, unit: display.mixtureUnit, figure: display.mixture }
    : { ...lane, figure: figureOf }
const lanes = computed(() => stored.value.map(asRead))
const all = computed(() => allStored.value.map(asRead))
/** Why what stands at the cursor does not count; empty where it does. */
const why = computed(() =>
  at.value === null ? '' : (shaded.value.find(({ from, to }) => at.value! >= from && at.value! <= to)?.reason ?? ''),
)
function choose(id: string): void {
  stretch.value = id
  const { from, to } = stretches.value.find((each) => each.id === id)!
  const room = 0.25 * (to - from)
  view.value = { from: Math.max(whole.value.from, from - room), to: Math.min(whole.value.to, to + room) }
}
/** The cell of the field that the engine stood in at the cursor. */
const grid = computed(() => options.value?.grid ?? null)
const columnAt = (channel: string): number =>
  allStored.value.find((lane) => lane.channel === channel)?.levels.values[row.value] ?? NaN
const cursorCell = computed(() =>
  grid.value && row.value >= 0
    ? cellAt(grid.value, columnAt('rpm'), columnAt(grid.value.loadAxis === 'throttle' ? 'throttle' : 'manifold'))
    : null,
)
const looked = useLookedAt()
const router = useRouter()
/** The cell whose readings are shown in the log; one that was looked at elsewhere comes along. */
const cell = ref<{ row: number; column: number } | null>(null)
watch(
  [grid, () => looked.cell],
  () => {
    if (grid.value && looked.cell) cell.value = cellAt(grid.value, looked.cell.rpm, looked.cell.load)
  },
  { immediate: true },
)
const visits = computed(() => (cell.value && fed.value?.[cell.value.row]?.[cell.value.column]) || [])
function goTo({ from, to }: Span): void {
  const room = Math.max(2, to - from)
  view.value = { from: Math.max(whole.value.from, from - room), to: Math.min(whole.value.to, to + room) }
  at.value = (from + to) / 2
}
/** Shows the cell in the field: the one that is looked at, else the one at the cursor. */
function showInField(): void {
  const which = cell.value ?? cursorCell.value
  if (!which || !grid.value) return
  looked.cell = { rpm: grid.value.rpm[which.column]!, load: grid.value.load[which.row]! }
  void router.push({ name: 'mixture', params: { job: open.job!.id } })
}
const runName = ref('')
watch(run, (now) => (runName.value = now?.name ?? ''), { immediate: true })

const showWhole = (): void => void (view.value = whole.value)
function showBrushed(): void {
  if (brushed.value) [view.value, brushed.value] = [brushed.value, null]
}
</script>

<template>
  <StageSplit label="A log over time" drawer-label="Channels and stretches" :problem="problem">
    <template #bar>
      <ViewSwitch />
      <ChoiceSelect
        v-if="run"
        class="run"
        name="Run"
        :model-value="run.id"
        :choices="open.runs.map((each) => ({ value: each.id, label: each.name }))"
        @update:model-value="chosen = $event"
      />
      <ElButton size="small" @click="showWhole">All of it</ElButton>
      <ElButton v-if="brushed" size="small" @click="showBrushed">Zoom to what is marked</ElButton>
    </template>
    <LogCanvas
      v-if="run && time.length > 1"
      v-model:view="view"
      v-model:at="at"
      v-model:brushed="brushed"
      :time="time"
      :lanes="lanes"
      :shaded="shaded"
      :fed="visits"
      :stretches="stretches"
      :chosen="stretch"
      :whole="whole"
      @choose="choose"
    />
    <p v-else class="soft empty">Add a log at Runs: it stands here over its seconds, with what is found in it.</p>
    <p class="soft legend">
      <span role="status">
        <template v-if="busy">Fetching the log …</template>
        <template v-else-if="at !== null">{{ plain(at, 2) }} s{{ why ? `: set aside, ${why}` : '' }}</template>
        <template v-else>Wheel zooms, drag moves, Shift-drag marks</template>.
      </span>
      Shaded: does not count for the mixture; the cursor says why. Green: fed the cell that is looked at.
    </p>
    <template #drawer>
      <label v-if="run" class="name soft"
        >Name of the run
        <ElInput
          v-model="runName"
          size="small"
          maxlength="160"
          aria-label="Name of the run"
          @change="runName.trim() && changeRun({ name: runName.trim() })"
      /></label>
      <template v-if="grid && fed">
        <h2>In the field</h2>
        <LogCells v-model:chosen="cell" :grid="grid" :unit="LOAD_UNITS[grid.loadAxis]" :spans="fed" :at="cursorCell" />
        <p v-if="cell" class="soft">
          {{ grouped(grid.rpm[cell.column]!) }} rpm · {{ grid.load[cell.row] }} {{ LOAD_UNITS[grid.loadAxis] }}:
          {{ visits.length ? 'fed by' : 'this run did not feed it.' }}
          <button
            v-for="visit in visits.slice(0, 12)"
            :key="visit.from"
            type="button"
            class="visit"
            @click="goTo(visit)"
          >
            {{ plain(visit.from, 1) }} s
          </button>
          <template v-if="visits.length > 12">and {{ visits.length - 12 }} more</template>
        </p>
        <ElButton size="small" :disabled="!cell && !cursorCell" @click="showInField">Show it in the field</ElButton>
      </template>
      <LeavePanel
        v-if="run"
        :marked="brushed"
        :whole="whole"
        :without="run.without ?? []"
        @leave="changeRun({ without: $event.length ? $event : null })"
      />
      <LogChannels v-model:shown="shown" :lanes="all" :row="row" />
      <LogStretches v-model:chosen="stretch" :stretches="stretches" :at="at" :change="change" @choose="choose" />
    </template>
  </StageSplit>
</template>

<style scoped>
.run {
  flex: 1 1 160px;
  min-width: 120px;
  max-width: 260px;
}
.legend {
  font-size: 12px;
  margin: 0;
}
.empty {
  padding: 24px 0;
}
h2 {
  margin: 10px 0 4px;
}
.name {
  display: grid;
  gap: 2px;
  font-size: 13px;
  padding-top: 8px;
}
.visit {
  margin: 0 2px;
  padding: 0 4px;
  min-height: 24px;
  border: 1px solid var(--line-strong);
  border-radius: 4px;
  background: none;
  color: inherit;
  font: 12px var(--figures);
  cursor: pointer;
}
</style>
