<script setup lang="ts">
import { ElButton, ElMessageBox, ElTabPane, ElTabs } from 'element-plus'
import { LOAD_UNITS, looksTurned } from '@yuzumix/core'
import { computed, ref } from 'vue'
import ChoiceSelect from '@/parts/choose/ChoiceSelect.vue'
import { notifyProblem } from '@/api/notify'
import { useHandling } from '@/job/handling'
import { pinSpans } from '@/parts/pins/pinSpans'
import { counted, grouped } from '@/parts/numbers/format'
import NumberBox from '@/parts/numbers/NumberBox.vue'
import type { GridAct } from '@/parts/table/gridKeys'
import TableGrid, { type CellLook } from '@/parts/table/TableGrid.vue'
import StageSplit from '@/parts/frame/StageSplit.vue'
import NewTableDialog from './NewTableDialog.vue'
import TableKindDialog from './TableKindDialog.vue'
import RevisionsPanel from './RevisionsPanel.vue'
import SaveDialog from './SaveDialog.vue'
import type { TableDesk } from './useTableDesk'
import type { TableEdits } from './useTableEdits'

/** A table being worked on: grid, acts, revisions. What is suggested for it, and why, comes from the stage around. */
const props = defineProps<{
  desk: TableDesk
  edits: TableEdits
  look: (row: number, column: number) => CellLook
  label: string
  drawerLabel: string
  problem: string
  /** what is to be known before anything is taken; empty for nothing */
  notice?: string
}>()
const { info, working, selection, pair, compared, tables, tableId, adding, saving, reason, override, note } = props.desk
const { untaken, leftByHand } = props.edits
const { meanwhile } = working
const tab = ref('cell')
const handling = useHandling()
/** Revisions are compared, or the job was handed over: nothing is edited. */
const isFixed = computed(() => pair.value !== null || handling.isDone)
const pins = computed(() => pinSpans(handling.complaints, info.value?.table.rpm.at(-1) ?? 0))

const ACTS: Record<GridAct, () => void> = {
  line: props.edits.line,
  even: props.edits.even,
  extend: props.edits.extend,
  hold: props.edits.hold,
  take: props.edits.takeSelection,
  'take all': () => props.edits.takeAll({ intoHand: true }),
  undo: working.undo,
  redo: working.redo,
  up: () => props.edits.step(1),
  down: () => props.edits.step(-1),
  save: props.desk.askReason,
}
/** Acts, and words about the last one, which the next act takes away. */
function act(what: GridAct): void {
  note.value = ''
  if (!handling.isDone) ACTS[what]()
}
function enter(take: (cell: number) => number, words: string): void {
  props.edits.enter(take)
  note.value = `Done: ${words}.`
}
async function paste(text: string): Promise<void> {
  try {
    const { kind } = info.value!.table
    const isTurned = looksTurned(kind, working.values.value, text) === true && (await askTurned())
    note.value = props.edits.paste(text, isTurned).join(' ')
  } catch (error) {
    notifyProblem(error)
  }
}
/** A table that is written with the smallest opening on top is never turned over in silence. */
const askTurned = (): Promise<boolean> =>
  ElMessageBox.confirm(
    'The first line of what you paste looks like the smallest opening; here the largest stands on top.',
    'Which way round?',
    {
      confirmButtonText: 'First line is the smallest',
      cancelButtonText: 'First line is the largest',
      distinguishCancelAndClose: true,
    },
  ).then(
    () => true,
    (how: string) => {
      if (how === 'close') throw new Error('Nothing was pasted.')
      return false
    },
  )
/** What "Take all" left as somebody set it. */
const left = computed(() => {
  const cells = leftByHand.value
  const { rpm, load, loadAxis } = info.value!.table
  const named = cells
    .slice(0, 4)
    .map(({ row, column }) => `${grouped(rpm[column]!)} rpm at ${load[row]} ${LOAD_UNITS[loadAxis]}`)
  const more = cells.length > 4 ? ` and ${cells.length - 4} more` : ''
  return cells.length ? `Left as set by hand: ${named.join(', ')}${more}. Shift-A takes the suggestion there, too.` : ''
})
const adds = computed(() => info.value?.table.kind === 'fuel trim' && info.value.table.composition === 'add')
</script>

<template>
  <StageSplit v-if="info" :label="label" :drawer-label="drawerLabel" :problem="problem">
    <template #bar>
      <slot name="switch" />
      <ChoiceSelect
        :model-value="info.id"
        class="tables"
        name="Table"
        @update:model-value="tableId = $event"
        :choices="tables.map((one) => ({ value: one.id, label: `${one.name} (${one.table.kind})` }))"
      />
      <ElButton size="small" @click="desk.newTable">New table</ElButton>
      <slot name="views" />
      <span class="space" />
      <slot name="status">
        <span class="soft" role="status">{{
          pair
            ? `Revision ${compared![1]} minus ${compared![0]}`
            : working.editedCount.value
              ? `${counted(working.editedCount.value, 'cell')} not saved${working.restored.value ? ', kept from before' : ''}`
              : working.isEdited.value
                ? 'Global trim not saved'
                : `Revision ${working.parent.value}`
        }}</span>
      </slot>
    </template>
    <slot name="ask" />
    <p v-if="notice" class="notice" role="note">{{ notice }}</p>
    <p v-if="meanwhile" class="notice" role="status">
      Revision {{ meanwhile.revision }} was saved elsewhere meanwhile: {{ counted(meanwhile.theirs, 'cell') }}. Yours
      lie on top of it{{ meanwhile.both ? `, and stand in ${counted(meanwhile.both, 'cell')} that both changed` : '' }}.
      Look at it under Revisions, then save.
    </p>
    <label v-if="adds" class="global">
      Global trim that the module adds to every cell
      <NumberBox
        :model-value="working.global.value"
        name="Global trim in %"
        :least="-95"
        :most="300"
        :step="1"
        :disabled="pair !== null"
        @update:model-value="working.setGlobal($event)"
      />
      %
    </label>
    <TableGrid
      v-model:selection="selection"
      :grid="info.table"
      :kind="info.table.kind"
      :values="pair ? pair[1].values : working.values.value"
      :shown="desk.shown"
      :note="left || note"
      :look="look"
      :pins="pins"
      :load-unit="LOAD_UNITS[info.table.loadAxis]"
      :label="`${info.name}, ${info.table.kind}`"
      :readonly="isFixed"
      @entry="enter"
      @act="act"
      @paste="paste"
      @fault="notifyProblem"
    />
    <div class="acts">
      <ElButton size="small" :disabled="untaken === null || isFixed || untaken === 0" @click="edits.takeAll()">{{
        untaken === 0
          ? 'Nothing left to take'
          : untaken === 1
            ? 'Take the 1 change'
            : `Take all ${untaken ?? 0} changes`
      }}</ElButton>
      <ElButton size="small" :disabled="untaken === null || isFixed" @click="edits.takeSelection"
        >Take for selection</ElButton
      >
      <ElButton size="small" :disabled="!working.canUndo.value || handling.isDone" @click="working.undo">Undo</ElButton>
      <ElButton size="small" :disabled="!working.canRedo.value || handling.isDone" @click="working.redo">Redo</ElButton>
      <span class="space" />
      <ElButton type="primary" size="small" :disabled="!working.isEdited.value || isFixed" @click="desk.askReason"
        >Save revision {{ desk.nextRevision.value }}</ElButton
      >
    </div>
    <template #drawer>
      <ElTabs v-model="tab">
        <ElTabPane label="Cell" name="cell"><slot name="cell" /></ElTabPane>
        <ElTabPane label="Limits" name="limits"><slot name="limits" /></ElTabPane>
        <ElTabPane :label="`Revisions (${info.revisions.length})`" name="revisions">
          <RevisionsPanel v-model:compared="compared" :info="info" @back="desk.goBack" @read="desk.readFile" />
        </ElTabPane>
      </ElTabs>
    </template>
    <TableKindDialog :desk="desk" />
    <NewTableDialog
      v-model="adding"
      :what="desk.what"
      :grid="desk.fromFile.value ?? desk.grid.value"
      :from-file="desk.fromFile.value"
      @added="tableId = $event"
    />
    <SaveDialog
      v-model="saving"
      v-model:reason="reason"
      v-model:override="override"
      :next="desk.nextRevision.value"
      :parent="working.parent.value"
      :edited="working.editedCount.value"
      :large="desk.large.value"
      :busy="desk.busy.value"
      @save="desk.save"
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
.global {
  display: flex;
  gap: 8px;
  align-items: center;
  flex: none;
}
.notice {
  flex: none;
  margin: 0;
  padding: 6px 10px;
  border-left: 4px solid var(--yuzu);
  background: var(--yuzu-soft);
}
.tables {
  width: 240px;
}
</style>
