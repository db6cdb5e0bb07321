<script setup lang="ts">
import { ElButton, ElOption, ElRadioButton, ElRadioGroup, ElSelect, ElTabPane, ElTabs } from 'element-plus'
import { computed, ref, shallowRef, watch } from 'vue'
import {
  DEFAULT_LIMITS,
  defaultBreakpoints,
  sameGrid,
  suggestChange,
  TableError,
  valueLimits,
  type ChangeLimits,
  type Selection,
  type SuggestedChange,
  type Table,
} from '@yuzumix/core'
import { api } from '@/api/client'
import { sayDone, sayProblem } from '@/api/say'
import TableGrid, { type GridAct } from '@/parts/table/TableGrid.vue'
import { useJob } from '@/stores/job'
import { useFieldOptions } from '@/stages/mixture/useFieldOptions'
import { useField } from '@/workers/useField'
import StageSplit from '@/stages/StageSplit.vue'
import CellPanel from './CellPanel.vue'
import FirstTable from './FirstTable.vue'
import LimitsPanel from './LimitsPanel.vue'
import NewTableDialog from './NewTableDialog.vue'
import RevisionsPanel from './RevisionsPanel.vue'
import SaveDialog from './SaveDialog.vue'
import { useCellLook } from './useCellLook'
import { useTableEdits } from './useTableEdits'
import { useWorkingTable } from './useWorkingTable'

const open = useJob()
const tableId = ref(open.fuelTables[0]?.id ?? '')
const info = computed(() => open.fuelTables.find((one) => one.id === tableId.value) ?? open.fuelTables[0] ?? null)
const grid = computed(
  () => info.value && { loadAxis: info.value.table.loadAxis, rpm: info.value.table.rpm, load: info.value.table.load },
)
const { runs, options, fault } = useFieldOptions(ref('solve'), grid)
const { field, problem, slow, cancel } = useField(() => open.job!.id, runs, options)

const working = useWorkingTable(info)
const selection = ref<Selection>({ row0: 0, column0: 0, row1: 0, column1: 0 })
watch(tableId, () => (selection.value = { row0: 0, column0: 0, row1: 0, column1: 0 }))
const limits = ref<ChangeLimits>({ ...DEFAULT_LIMITS })
const suggestion = computed<{ change: SuggestedChange | null; fault: string }>(() => {
  if (!info.value || !field.value || !sameGrid(info.value.table, field.value.grid)) return { change: null, fault: '' }
  try {
    return { change: suggestChange(info.value.table, field.value, limits.value, info.value.cylinder), fault: '' }
  } catch (error) {
    return { change: null, fault: (error as Error).message }
  }
})
const suggested = computed(() => suggestion.value.change)
const edits = useTableEdits(info, working, selection, suggested)

const view = ref<'change' | 'predicted'>('change')
const tab = ref('cell')
const compared = ref<[number, number] | null>(null)
const pair = shallowRef<[Table, Table] | null>(null)
watch(compared, async (now) => {
  if (!now || !info.value) return void (pair.value = null)
  try {
    const both = await Promise.all(now.map((n) => api.revision(open.job!.id, info.value!.id, n)))
    pair.value = [both[0]!.table, both[1]!.table]
  } catch (error) {
    sayProblem(error)
  }
})
const { look } = useCellLook({ info, field, suggested, values: working.values, differs: working.differs, view, pair })

const adding = ref(false)
const fromFile = shallowRef<Table | null>(null)
const saving = ref(false)
const reason = ref('')
const busy = ref(false)
const untaken = computed(() => suggested.value?.nodes.flat().filter((node) => node.changePct !== 0).length ?? 0)
const newGrid = computed(() => options.value?.grid ?? defaultBreakpoints('throttle', 10000))
const nextRevision = computed(() => working.parent.value + 1)

const ACTS: Record<GridAct, () => void> = {
  line: edits.line,
  even: edits.even,
  extend: edits.extend,
  hold: edits.hold,
  take: edits.takeSelection,
  undo: working.undo,
  redo: working.redo,
  up: () => edits.step(1),
  down: () => edits.step(-1),
  save: askReason,
}

function askReason(): void {
  if (working.editedCount.value === 0) return
  reason.value ||= `Corrected from ${runs.value.length} runs`
  saving.value = true
}

async function save(): Promise<void> {
  if (!info.value || !reason.value.trim()) return
  const { least, most } = valueLimits(info.value.table.kind)
  if (working.values.value.flat().some((value) => value < least || value > most))
    return sayProblem(new Error(`A cell is outside ${least} to ${most}. Mend it, then save.`))
  busy.value = true
  try {
    const saved = await api.addRevision(open.job!.id, info.value.id, {
      values: working.values.value,
      parent: working.parent.value,
      reason: reason.value.trim(),
      runs: runs.value.map((run) => run.id),
    })
    open.putTable(saved)
    ;[saving.value, reason.value] = [false, '']
    sayDone(`Revision ${saved.revisions.at(-1)!.n} is saved.`)
  } catch (error) {
    sayProblem(error)
  } finally {
    busy.value = false
  }
}

async function goBack(n: number): Promise<void> {
  try {
    const { table } = await api.revision(open.job!.id, info.value!.id, n)
    working.edit(table.values)
    ;[compared.value, reason.value] = [null, `Back to revision ${n}`]
    sayDone(`The values of revision ${n} are in the table. Save them as revision ${nextRevision.value}, or undo.`)
  } catch (error) {
    sayProblem(error)
  }
}

async function readFile(file: File): Promise<void> {
  try {
    const table = await api.readTable(file)
    const mine = info.value!.table
    if (table.kind === mine.kind && sameGrid(table, mine)) {
      working.edit(table.values)
      reason.value = `Read from ${file.name}`
      sayDone('The values of the file are in the table. Save them as a revision, or undo.')
    } else {
      fromFile.value = table
      adding.value = true
    }
  } catch (error) {
    sayProblem(error)
  }
}

async function readNew(file: File): Promise<void> {
  try {
    const table = await api.readTable(file)
    if (!table.kind.startsWith('fuel'))
      throw new TableError(`The file holds a ${table.kind} table; a fuel table is needed here.`)
    fromFile.value = table
    adding.value = true
  } catch (error) {
    sayProblem(error)
  }
}
function newTable(): void {
  fromFile.value = null
  adding.value = true
}
</script>

<template>
  <FirstTable v-if="!info" @make="newTable" @read="readNew">
    <template #switch><slot name="switch" /></template>
    <NewTableDialog v-model="adding" :grid="newGrid" :from-file="fromFile" @added="tableId = $event" />
  </FirstTable>
  <StageSplit
    v-else
    label="Fuel table"
    drawer-label="Evidence and revisions"
    :problem="fault || problem || suggestion.fault"
  >
    <template #bar>
      <slot name="switch" />
      <ElSelect
        :model-value="info.id"
        size="small"
        class="tables"
        aria-label="Table"
        @update:model-value="tableId = $event"
      >
        <ElOption
          v-for="one in open.fuelTables"
          :key="one.id"
          :value="one.id"
          :label="`${one.name} (${one.table.kind})`"
        />
      </ElSelect>
      <ElButton size="small" @click="newTable">New table</ElButton>
      <ElRadioGroup v-model="view" size="small" aria-label="Shown in the cells" :disabled="pair !== null">
        <ElRadioButton value="change">Change</ElRadioButton>
        <ElRadioButton value="predicted">Predicted mixture</ElRadioButton>
      </ElRadioGroup>
      <span class="space" />
      <span v-if="slow" role="status">Solving … <ElButton size="small" @click="cancel">Stop</ElButton></span>
      <span v-else class="soft" role="status">{{
        pair
          ? `Revision ${compared![1]} minus ${compared![0]}`
          : working.editedCount.value
            ? `${working.editedCount.value} cells not saved${working.restored.value ? ', kept from before' : ''}`
            : `Revision ${working.parent.value}`
      }}</span>
    </template>
    <TableGrid
      v-model:selection="selection"
      :grid="info.table"
      :values="pair ? pair[1].values : working.values.value"
      :look="look"
      :load-unit="info.table.loadAxis === 'throttle' ? '%' : 'kPa'"
      :label="`${info.name}, ${info.table.kind}`"
      :readonly="pair !== null"
      @set="edits.set"
      @act="ACTS[$event]()"
      @paste="edits.paste"
      @fault="sayProblem"
    />
    <div class="acts">
      <ElButton size="small" :disabled="!suggested || pair !== null || untaken === 0" @click="edits.takeAll"
        >Take all {{ untaken }} changes</ElButton
      >
      <ElButton size="small" :disabled="!suggested || pair !== null" @click="edits.takeSelection"
        >Take for selection</ElButton
      >
      <ElButton size="small" :disabled="!working.canUndo.value" @click="working.undo">Undo</ElButton>
      <ElButton size="small" :disabled="!working.canRedo.value" @click="working.redo">Redo</ElButton>
      <span class="space" />
      <ElButton
        type="primary"
        size="small"
        :disabled="working.editedCount.value === 0 || pair !== null"
        @click="askReason"
        >Save revision {{ nextRevision }}</ElButton
      >
    </div>
    <template #drawer>
      <ElTabs v-model="tab">
        <ElTabPane label="Cell" name="cell">
          <CellPanel
            :info="info"
            :field="suggested ? field : null"
            :suggested="suggested"
            :at="{ row: selection.row1, column: selection.column1 }"
            :value="working.values.value[selection.row1]?.[selection.column1] ?? 0"
          />
        </ElTabPane>
        <ElTabPane label="Limits" name="limits"><LimitsPanel v-model="limits" /></ElTabPane>
        <ElTabPane :label="`Revisions (${info.revisions.length})`" name="revisions">
          <RevisionsPanel v-model:compared="compared" :info="info" @back="goBack" @read="readFile" />
        </ElTabPane>
      </ElTabs>
    </template>
    <NewTableDialog v-model="adding" :grid="fromFile ?? grid" :from-file="fromFile" @added="tableId = $event" />
    <SaveDialog
      v-model="saving"
      v-model:reason="reason"
      :next="nextRevision"
      :parent="working.parent.value"
      :edited="working.editedCount.value"
      :busy="busy"
      @save="save"
    />
  </StageSplit>
</template>

<style scoped>
.acts {
  display: flex;
  gap: 8px;
  align-items: center;
  height: 32px;
  flex: none;
}
.acts :deep(.el-button + .el-button) {
  margin-left: 0;
}
.tables {
  width: 240px;
}
.space {
  flex: 1;
}
</style>
