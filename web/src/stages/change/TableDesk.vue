<script setup lang="ts">
import { ElButton, ElOption, ElSelect, ElTabPane, ElTabs } from 'element-plus'
import { ref } from 'vue'
import { sayProblem } from '@/api/say'
import TableGrid, { type CellLook, type GridAct } from '@/parts/table/TableGrid.vue'
import StageSplit from '@/stages/StageSplit.vue'
import NewTableDialog from './NewTableDialog.vue'
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
  /** changes suggested; null while there is no suggestion */
  untaken: number | null
}>()
const { info, working, selection, pair, compared, tables, tableId, adding, saving, reason, override } = props.desk
const tab = ref('cell')

const ACTS: Record<GridAct, () => void> = {
  line: props.edits.line,
  even: props.edits.even,
  extend: props.edits.extend,
  hold: props.edits.hold,
  take: props.edits.takeSelection,
  undo: working.undo,
  redo: working.redo,
  up: () => props.edits.step(1),
  down: () => props.edits.step(-1),
  save: props.desk.askReason,
}
</script>

<template>
  <StageSplit v-if="info" :label="label" :drawer-label="drawerLabel" :problem="problem">
    <template #bar>
      <slot name="switch" />
      <ElSelect
        :model-value="info.id"
        size="small"
        class="tables"
        aria-label="Table"
        @update:model-value="tableId = $event"
      >
        <ElOption v-for="one in tables" :key="one.id" :value="one.id" :label="`${one.name} (${one.table.kind})`" />
      </ElSelect>
      <ElButton size="small" @click="desk.newTable">New table</ElButton>
      <slot name="views" />
      <span class="space" />
      <slot name="status">
        <span class="soft" role="status">{{
          pair
            ? `Revision ${compared![1]} minus ${compared![0]}`
            : working.editedCount.value
              ? `${working.editedCount.value} cells not saved${working.restored.value ? ', kept from before' : ''}`
              : `Revision ${working.parent.value}`
        }}</span>
      </slot>
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
      <ElButton size="small" :disabled="untaken === null || pair !== null || untaken === 0" @click="edits.takeAll"
        >Take all {{ untaken ?? 0 }} changes</ElButton
      >
      <ElButton size="small" :disabled="untaken === null || pair !== null" @click="edits.takeSelection"
        >Take for selection</ElButton
      >
      <ElButton size="small" :disabled="!working.canUndo.value" @click="working.undo">Undo</ElButton>
      <ElButton size="small" :disabled="!working.canRedo.value" @click="working.redo">Redo</ElButton>
      <span class="space" />
      <ElButton
        type="primary"
        size="small"
        :disabled="working.editedCount.value === 0 || pair !== null"
        @click="desk.askReason"
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
.tables {
  width: 240px;
}
.space {
  flex: 1;
}
</style>
