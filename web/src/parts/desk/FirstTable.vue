<script setup lang="ts">
import { ElButton } from 'element-plus'
import type { LoadGrid } from '@yuzumix/core'
import FileButton from '@/parts/choose/FileButton.vue'
import NewTableDialog from './NewTableDialog.vue'
import TableKindDialog from './TableKindDialog.vue'
import type { TableDesk } from './useTableDesk'

/** A stage before there is a table for it; a new one begins on `grid`. */
const props = defineProps<{ desk: TableDesk; grid: LoadGrid }>()
const { what, adding, fromFile, tableId, newTable, readFile } = props.desk
</script>

<template>
  <div class="empty">
    <div><slot name="switch" /></div>
    <template v-if="what === 'fuel'">
      <h1>Change</h1>
      <p>
        There is no fuel table yet. Add the one in the controller or module, base or trim in percent, on its own
        breakpoints. A machine with a carburettor has none: change its parts under "Carburettor".
      </p>
    </template>
    <template v-else-if="what === 'plate'">
      <h1>Tables of the answer to the hand</h1>
      <p>
        There is no plate table, acceleration fuel or fuel table yet. Take in those of the controller at the bench under
        "Tables", read one from a file, or make a plate table of the measured map under "Grip to plate".
      </p>
    </template>
    <template v-else>
      <h1>Spark table</h1>
      <p>
        There is no spark table yet. Add the one in the controller, base in degrees before top dead centre or a trim on
        top of it, on its own breakpoints; at the bench it can be taken in under "Tables". An ignition plate turned by
        hand has none: see "One knob" under "Fit".
      </p>
    </template>
    <div class="firsts">
      <ElButton type="primary" @click="newTable">New {{ what }} table</ElButton>
      <FileButton name="Table file" accept=".csv,.json,.xlsx" @chosen="readFile"
        >Read one from CSV, JSON or XLSX</FileButton
      >
    </div>
    <TableKindDialog :desk="desk" />
    <NewTableDialog v-model="adding" :what="what" :grid="grid" :from-file="fromFile" @added="tableId = $event" />
  </div>
</template>

<style scoped>
.empty {
  padding: 32px 48px;
  display: grid;
  gap: 16px;
}
.firsts {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
}
</style>
