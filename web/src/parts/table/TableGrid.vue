<script setup lang="ts">
import { computed, ref } from 'vue'
import { cellsToText, isBaseFuel, type Grid, type Matrix, type Selection, type TableKind } from '@yuzumix/core'
import { grouped } from '@/parts/numbers/format'
import { previewEntry } from './entryWords'
import GridHead from './GridHead.vue'
import { gridKeys, type GridAct } from './gridKeys'
import { useSelection } from './useSelection'
import WideFrame from './WideFrame.vue'
import { useVirtualTyping } from './useTyping'

/** What a cell shows: its value, a line under it, and marks. */
export interface CellLook {
  text: string
  under?: string
  colour?: string
  ink?: string
  edited?: boolean
  held?: boolean
  filled?: boolean
  title?: string
}
const props = defineProps<{
  grid: Grid
  kind: TableKind
  values: Matrix
  /** how a value is shown */
  shown: (value: number) => string
  /** what was done last, said under the table */
  note?: string
  look: (row: number, column: number) => CellLook
  /** what riders complained of, by span of rpm */
  pins?: readonly { from: number; to: number; text: string }[]
  loadUnit: string
  label: string
  readonly?: boolean
}>()
const selection = defineModel<Selection>('selection', { required: true })
const emit = defineEmits<{
  /** a new value for each selected cell, and that in words */
  entry: [take: (cell: number) => number, words: string]
  act: [act: GridAct]
  paste: [text: string]
  fault: [error: Error]
}>()

const body = ref<HTMLElement>()
const rows = computed(() => props.grid.load.map((_, row) => row).reverse())
const { isIn, isActive, part, move, all, beginDrag, dragTo, endDrag } = useSelection(
  selection,
  () => props.grid,
  body,
  () => commit(),
)
const selected = computed(() => part(props.values).flat())
const preview = (text: string) => previewEntry(text, props.kind, selected.value, props.shown)
const { typed, type, commit, drop } = useVirtualTyping((text) => {
  const made = preview(text)
  if (made.fault === null) emit('entry', made.take, made.words.replace(/^Enter: /, ''))
  else emit('fault', new Error(`"${text.slice(0, 24)}": ${made.fault} Nothing was changed.`))
})
const pending = computed(() => (typed.value.trim() === '' ? null : preview(typed.value)))
const hint = computed(
  () =>
    `22 or =22 sets · ${isBaseFuel(props.kind) ? '+5 adds 5 % of fuel' : '+5 adds 5 points'} · *1.1 and /1.1 multiply and divide · ? shows all keys`,
)
const words = computed(() => (props.readonly ? '' : (pending.value?.words ?? (props.note || hint.value))))
/** What a cell will hold if Enter is pressed now. */
function coming(row: number, column: number): string | null {
  const now = pending.value
  if (!now || now.fault !== null || !isIn(row, column)) return null
  return props.shown(now.take(props.values[row]![column]!))
}

const key = gridKeys({
  isReadonly: () => props.readonly,
  typed,
  type,
  commit,
  drop,
  move,
  all,
  act: (act) => emit('act', act),
})
function copy(event: ClipboardEvent): void {
  event.clipboardData?.setData('text/plain', cellsToText(part(props.values), 6))
  event.preventDefault()
}
function paste(event: ClipboardEvent): void {
  if (props.readonly) return
  event.preventDefault()
  emit('paste', event.clipboardData?.getData('text/plain') ?? '')
}
</script>

<template>
  <WideFrame
    :from="grouped(grid.rpm[0]!)"
    :to="`${grouped(grid.rpm.at(-1)!)} rpm`"
    @pointerup="endDrag"
    @pointerleave="endDrag"
  >
    <table
      ref="body"
      role="grid"
      :aria-label="label"
      aria-multiselectable="true"
      :aria-readonly="readonly"
      @keydown="key"
      @copy="copy"
      @paste="paste"
      @focusout="commit()"
    >
      <GridHead :rpm="grid.rpm" :load-unit="loadUnit" :pins="pins ?? []" />
      <tbody>
        <tr v-for="row in rows" :key="row" role="row">
          <th role="rowheader" scope="row" class="figures">{{ grid.load[row] }}</th>
          <td
            v-for="(cell, column) in grid.rpm.map((_, c) => look(row, c))"
            :key="column"
            role="gridcell"
            :data-at="`${row}:${column}`"
            :tabindex="isActive(row, column) ? 0 : -1"
            :aria-selected="isIn(row, column)"
            :aria-label="`${grid.rpm[column]} rpm, load ${grid.load[row]}: ${cell.text}${cell.under ? `, ${cell.under}` : ''}`"
            :title="cell.title"
            :class="{
              in: isIn(row, column),
              active: isActive(row, column),
              edited: cell.edited,
              held: cell.held,
              filled: cell.filled,
            }"
            :style="{ background: cell.colour, color: cell.ink }"
            @pointerdown.prevent="beginDrag($event, row, column)"
            @pointerenter="dragTo(row, column)"
          >
            <span class="value">{{ isActive(row, column) && typed ? typed : cell.text }}</span>
            <span class="under">{{
              coming(row, column) !== null ? `→${coming(row, column)}` : (cell.under ?? '\u00a0')
            }}</span>
          </td>
        </tr>
      </tbody>
    </table>
  </WideFrame>
  <p class="words figures" :class="{ fault: pending?.fault, soft: !pending && !note }" role="status">{{ words }}</p>
</template>

<style scoped>
table {
  border-collapse: separate;
  border-spacing: 1px;
  width: 100%;
  height: 100%;
  user-select: none;
  font-family: var(--figures);
  font-variant-numeric: tabular-nums;
}
table :deep(th) {
  color: var(--soft);
  font-weight: 400;
  font-size: 11.5px;
  letter-spacing: -0.04em;
  padding: 2px 2px;
  text-align: center;
  background: var(--panel);
  position: sticky;
  top: 0;
  z-index: 1;
}
table :deep(th.pinned) {
  box-shadow: inset 0 -3px 0 var(--yuzu);
}
tbody th {
  left: 0;
  text-align: right;
  min-width: 34px;
}
table :deep(.corner) {
  left: 0;
  z-index: 2;
  white-space: nowrap;
}
table :deep(th.figures) {
  white-space: nowrap;
}
td {
  position: relative;
  text-align: center;
  padding: 1px;
  min-width: 34px;
  background: var(--paper);
  border: 1px solid transparent;
  cursor: cell;
  line-height: 1.15;
}
td:focus-visible {
  outline: none;
}
.value {
  display: block;
  font-size: 12px;
  letter-spacing: -0.05em;
}
td span {
  white-space: nowrap;
}
.under {
  display: block;
  font-size: 11.5px;
  letter-spacing: -0.04em;
}
.edited .value {
  font-weight: 700;
  text-decoration: underline;
  text-underline-offset: 2px;
}
.held {
  background-image: repeating-linear-gradient(
    45deg,
    transparent 0 4px,
    color-mix(in srgb, var(--ink) 16%, transparent) 4px 5px
  ) !important;
}
.words {
  flex: none;
  min-height: 20px;
  margin: 0;
  font-size: 12px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.words.fault {
  color: var(--alarm);
}
.filled {
  border: 1px dashed var(--ink);
}
.in {
  box-shadow: inset 0 0 0 2px var(--yuzu);
}
.active {
  box-shadow: inset 0 0 0 3px var(--leaf);
}
</style>
