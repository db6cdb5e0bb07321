<script setup lang="ts">
import { ElButton, ElRadioButton, ElRadioGroup } from 'element-plus'
import { computed, ref } from 'vue'
import {
  DEFAULT_LIMITS,
  defaultBreakpoints,
  misfireWords,
  setByCell,
  setsFuel,
  setsTarget,
  type ChangeLimits,
} from '@yuzumix/core'
import { useJob } from '@/job/openJob'
import { useFieldQuestion } from '@/job/useFieldQuestion'
import AskMadeOn from '@/parts/desk/AskMadeOn.vue'
import CellPanel from './CellPanel.vue'
import FirstTable from '@/parts/desk/FirstTable.vue'
import LimitsPanel from './LimitsPanel.vue'
import ShapePanel from './ShapePanel.vue'
import TableDesk from '@/parts/desk/TableDesk.vue'
import { useCellLook } from './useCellLook'
import { useChange } from './useChange'
import { madeOnWords } from './madeOnWords'
import { useTableDesk } from '@/parts/desk/useTableDesk'
import { useTableEdits } from '@/parts/desk/useTableEdits'

const open = useJob()
const desk = useTableDesk(
  computed(() => setByCell(open.tables.filter(({ table }) => setsFuel(table) || setsTarget(table)))),
  'fuel',
  computed(() => question.value?.field.runs ?? []),
)
const { info, working, selection, pair } = desk
const limits = ref<ChangeLimits>({ ...DEFAULT_LIMITS })
const change = useChange(info, limits)
const { question, field, suggested, since, untold, slow, cancel } = change
/** What is to be known before the change is looked at. */
const notice = computed(() =>
  [
    info.value && setsTarget(info.value.table)
      ? 'The lambda that the controller aims at: set it as you intend. What was measured goes into the filling.'
      : '',
    question.value && untold.value.length === 0 ? madeOnWords(question.value) : '',
    ...(field.value?.misfires ?? []).map((zone) => misfireWords(zone, open.cylinderName)),
  ]
    .filter(Boolean)
    .join(' '),
)
const edits = useTableEdits(info, working, selection, suggested)
const view = ref<'change' | 'predicted'>('change')
const { look } = useCellLook({
  info,
  field,
  suggested,
  since,
  values: working.values,
  shown: desk.shown,
  differs: working.differs,
  view,
  pair,
})
const { options } = useFieldQuestion()
const newGrid = computed(() => options.value?.grid ?? defaultBreakpoints('throttle', 10000))
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
    label="Fuel table"
    drawer-label="Evidence and revisions"
    :notice="notice"
    :problem="change.problem.value"
  >
    <template #switch><slot name="switch" /></template>
    <template v-if="untold.length" #ask><AskMadeOn :untold="untold[0]!" /></template>
    <template #views>
      <ElRadioGroup v-model="view" size="small" aria-label="Shown in the cells" :disabled="pair !== null">
        <ElRadioButton value="change">Change</ElRadioButton>
        <ElRadioButton value="predicted">Predicted mixture</ElRadioButton>
      </ElRadioGroup>
    </template>
    <template v-if="slow" #status>
      <span role="status">Solving … <ElButton size="small" @click="cancel">Stop</ElButton></span>
    </template>
    <template #cell>
      <CellPanel
        :info="info"
        :field="suggested ? field : null"
        :suggested="suggested"
        :since="since ?? []"
        :at="{ row: selection.row1, column: selection.column1 }"
        :value="working.values.value[selection.row1]?.[selection.column1] ?? 0"
      />
    </template>
    <template #limits>
      <ShapePanel
        v-if="suggested"
        :table="info.table"
        :suggested="suggested"
        @select="selection = { row0: $event.row, row1: $event.row, column0: $event.column, column1: $event.column }"
      />
      <LimitsPanel v-model="limits" />
    </template>
  </TableDesk>
</template>
