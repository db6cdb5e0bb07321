<script setup lang="ts">
import WorkStatus from '@/parts/frame/WorkStatus.vue'
import { computed } from 'vue'
import { defaultBreakpoints, plainFuelTables, sparkChangeAnswer, type SuggestedSpark } from '@yuzumix/core'
import { useJob } from '@/job/openJob'
import { signed } from '@/parts/numbers/format'
import type { CellLook } from '@/parts/table/TableGrid.vue'
import { differenceLook, useChangeColours } from '@/parts/desk/differenceLook'
import FirstTable from '@/parts/desk/FirstTable.vue'
import TableDesk from '@/parts/desk/TableDesk.vue'
import { useTableDesk } from '@/parts/desk/useTableDesk'
import { useTableEdits } from '@/parts/desk/useTableEdits'
import SparkCellPanel from './SparkCellPanel.vue'
import SparkLimitsPanel from './SparkLimitsPanel.vue'
import type { Spark } from './useSpark'

/** A spark table, base or trim, with what the points suggest for it. */
const props = defineProps<{ spark: Spark }>()
const open = useJob()
const { bins, runs, settings, problem, busy, slow, cancel, sparkTables } = props.spark
const desk = useTableDesk(sparkTables, 'spark', runs)
const { info, working, selection, pair } = desk
const suggested = computed<SuggestedSpark | null>(() =>
  info.value && bins.value.length > 0 ? sparkChangeAnswer(info.value.table, bins.value, settings.value) : null,
)
const edits = useTableEdits(info, working, selection, suggested)
const newGrid = computed(() => {
  const { rpm, load, loadAxis } = plainFuelTables(open.tables)[0]?.table ?? defaultBreakpoints('throttle', 10000)
  return { rpm, load, loadAxis }
})
const coloured = useChangeColours()
const at = computed(() => ({ row: selection.value.row1, column: selection.value.column1 }))

function look(row: number, column: number): CellLook {
  if (pair.value) return differenceLook(pair.value, row, column, coloured)
  const value = working.values.value[row]?.[column] ?? 0
  const node = suggested.value?.nodes[row]?.[column]
  const base = { text: desk.shown(value), edited: working.differs(row, column) }
  if (!node || node.reason === 'no evidence') return { ...base, under: '·' }
  if (node.reason === 'stale, mixture moved') return { ...base, under: 'stale', held: true, title: node.reason }
  const taken = value === node.after && node.changeDeg !== 0 ? '✓' : ''
  return { ...base, under: `${taken}${signed(node.changeDeg)}°`, title: node.reason, ...coloured(node.changeDeg, '°') }
}
</script>

<template>
  <FirstTable v-if="!info" :desk="desk" :grid="newGrid">
    <template #switch><slot name="switch" /></template>
  </FirstTable>
  <TableDesk
    v-else
    :desk="desk"
    :edits="edits"
    :look="look"
    label="Spark table"
    drawer-label="Evidence and revisions"
    :problem="problem"
  >
    <template #switch><slot name="switch" /></template>
    <template v-if="busy" #status><WorkStatus busy :slow="slow" doing="Fitting …" @stop="cancel()" /></template>
    <template #cell>
      <SparkCellPanel
        :info="info"
        :node="suggested?.nodes[at.row]?.[at.column] ?? null"
        :bins="bins"
        :at="at"
        :value="working.values.value[at.row]?.[at.column] ?? 0"
      />
    </template>
    <template #limits
      ><SparkLimitsPanel :limits="settings.limits" @choose="spark.choose({ limits: $event })"
    /></template>
  </TableDesk>
</template>
