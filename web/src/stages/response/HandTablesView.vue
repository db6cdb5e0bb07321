<script setup lang="ts">
import { ElInput } from 'element-plus'
import { computed } from 'vue'
import { PLATE_SHAPES } from '@yuzumix/core'
import ChoiceSelect from '@/parts/choose/ChoiceSelect.vue'
import { useJob } from '@/job/openJob'
import { differenceLook, useChangeColours } from '@/parts/desk/differenceLook'
import FirstTable from '@/parts/desk/FirstTable.vue'
import TableDesk from '@/parts/desk/TableDesk.vue'
import { useTableDesk } from '@/parts/desk/useTableDesk'
import { useTableEdits } from '@/parts/desk/useTableEdits'
import { grouped, plain, signed } from '@/parts/numbers/format'
import NumberBox from '@/parts/numbers/NumberBox.vue'
import type { CellLook } from '@/parts/table/TableGrid.vue'
import CurveEditor from './CurveEditor.vue'
import LinesChart, { type GripLine } from './LinesChart.vue'
import { useHandSuggestion } from './useHandSuggestion'
import type { ResponseState } from './useResponse'

/** The tables that answer the hand: plate by grip, acceleration fuel, and the fuel table tapered at loop exits. */
const props = defineProps<{ state: ResponseState }>()
const open = useJob()
const { runs, problem } = props.state
const ORDER = ['plate', 'acceleration fuel', 'fuel base', 'fuel trim']
const tables = computed(() =>
  open.tables
    .filter((one) => ORDER.includes(one.table.kind))
    .sort((a, b) => ORDER.indexOf(a.table.kind) - ORDER.indexOf(b.table.kind)),
)
const desk = useTableDesk(tables, 'plate', runs)
const { info, working, selection, pair } = desk
const hand = useHandSuggestion(props.state, info)
const { suggested, made, shape, share, curve, reason, fault } = hand
const edits = useTableEdits(info, working, selection, suggested)
const coloured = useChangeColours()
const isPlate = computed(() => info.value?.table.kind === 'plate')
const GRID = {
  loadAxis: 'throttle' as const,
  rpm: [2000, 4000, 6000, 8000, 10_000],
  load: [0, 5, 10, 20, 33, 50, 70, 100],
}
const TITLES: Record<(typeof PLATE_SHAPES)[number], string> = {
  hand: 'plate = hand',
  'torque straight': 'torque straight with the grip',
  'soft third': 'softer below a third',
  share: 'a share of full power',
  own: 'own curve',
}

function look(row: number, column: number): CellLook {
  if (pair.value) return differenceLook(pair.value, row, column, coloured)
  const value = working.values.value[row]?.[column] ?? 0
  const node = suggested.value?.nodes[row]?.[column]
  const base = { text: desk.shown(value), edited: working.differs(row, column) }
  if (!node || node.after === node.before) return base
  const taken = value === node.after ? '✓' : ''
  return {
    ...base,
    under: `${taken}${signed(node.size, 1)}`,
    title: node.reason,
    ...coloured(isPlate.value ? 0 : node.size, '%'),
  }
}
/** Torque over grip at the column looked at, before and after. */
const column = computed(() => selection.value.column1)
const torque = computed<GripLine[]>(() => {
  if (!made.value) return []
  const { grip, before, after } = made.value.torque
  const lineOf = (name: string, values: (number | null)[][], colour: string, dashed: boolean): GripLine => ({
    name,
    colour,
    dashed,
    points: grip.flatMap((x, g) => (values[g]?.[column.value] == null ? [] : [{ x, y: values[g]![column.value]! }])),
  })
  return [lineOf('before', before, 'var(--soft)', true), lineOf('after', after, 'var(--leaf)', false)].filter(
    (one) => one.points.length > 1,
  )
})
const ends = computed(() => {
  const values = torque.value.flatMap((one) => one.points.map((point) => point.y))
  return { least: Math.min(0, ...values), most: Math.max(10, ...values) }
})
const node = computed(() => suggested.value?.nodes[selection.value.row1]?.[column.value] ?? null)
</script>

<template>
  <FirstTable v-if="!info" :desk="desk" :grid="GRID">
    <template #switch><slot name="switch" /></template>
  </FirstTable>
  <TableDesk
    v-else
    :desk="desk"
    :edits="edits"
    :look="look"
    label="Tables of the answer to the hand"
    drawer-label="Shape, torque and revisions"
    :problem="problem || fault"
  >
    <template #switch><slot name="switch" /></template>
    <template v-if="isPlate" #views>
      <ChoiceSelect
        v-model="shape"
        class="shape"
        name="Shape of the plate table"
        :choices="PLATE_SHAPES.map((one) => ({ value: one, label: TITLES[one] }))"
      />
    </template>
    <template #cell>
      <p class="soft">
        {{ grouped(info.table.rpm[column] ?? 0) }} rpm, {{ plain(info.table.load[selection.row1] ?? 0, 0) }}
        {{ isPlate ? '% of grip' : info.table.kind === 'acceleration fuel' ? '% of plate per second' : '%' }}
      </p>
      <p v-if="node">{{ plain(node.before, 2) }} → <strong>{{ plain(node.after, 2) }}</strong>: {{ node.reason }}</p>
      <LinesChart
        v-if="torque.length"
        :title="`Torque over grip at ${grouped(info.table.rpm[column] ?? 0)} rpm: dashed before, line after`"
        :lines="torque"
        unit="N·m"
        :most="ends.most"
        :least="ends.least"
      />
      <p v-for="caution in made?.cautions ?? []" :key="caution" class="caution">{{ caution }}</p>
    </template>
    <template #limits>
      <template v-if="isPlate">
        <label v-if="shape === 'share'" class="line"
          >Share of full torque
          <NumberBox v-model="share" name="Share of full torque in %" :least="5" :most="100" :step="5" /> %</label
        >
        <template v-if="shape === 'own'">
          <p>Drag the points, or move them with the arrow keys.</p>
          <CurveEditor v-model="curve" />
        </template>
        <p>The first third of the grip stays no steeper than it is now, unless you say why:</p>
        <ElInput
          v-model="reason"
          size="small"
          maxlength="300"
          placeholder="why it may be steeper"
          aria-label="Why the first third may be steeper"
        />
      </template>
      <p v-else-if="info.table.kind === 'acceleration fuel'">
        Cells near roll-ons get what is missing there on the average, or lose what is too much; at most 40 a pass.
      </p>
      <p v-else>The first open cells above a loop exit leave its mixture by at most 2 % per 500 rpm.</p>
    </template>
  </TableDesk>
</template>

<style scoped>
.shape {
  width: 220px;
}
.line {
  display: flex;
  gap: 8px;
  align-items: center;
}
.caution {
  margin-top: 8px;
}
</style>
