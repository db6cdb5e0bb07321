import { computed, shallowRef, watch, type Ref } from 'vue'
import {
  addToCells,
  cellChange,
  changeCell,
  editCells,
  evenOut,
  extendCells,
  isBaseFuel,
  holdTop,
  ordered,
  pasteCells,
  scaleCells,
  straightLine,
  type Matrix,
  type Selection,
  type TableInfo,
  setsSpark,
  setsTarget,
} from '@yuzumix/core'
import type { Editor } from './useWorkingTable'

/** Degrees that a key moves the spark by. */
const SPARK_STEP = 0.5
/** and of a commanded lambda */
const LAMBDA_STEP = 0.01

/** What a stage suggests for each cell. */
export interface Suggestion {
  nodes: { before: number; after: number; reason: string }[][]
}

/** The part of the working table that edits need. */
interface Worked {
  values: Ref<Matrix>
  saved: Ref<Matrix>
  isByHand: (row: number, column: number) => boolean
  edit: (next: Matrix, editor?: Editor) => void
}

/** Edits of the working table over the selection. Each makes new values and hands them to `edit`. */
export function useTableEdits(
  info: Ref<TableInfo | null>,
  working: Worked,
  selection: Ref<Selection>,
  suggested: Ref<Suggestion | null>,
) {
  const { values, saved, edit } = working
  /** Cells set by hand that "Take all" left as they were. */
  const leftByHand = shallowRef<{ row: number; column: number }[]>([])

  function everything(): Selection {
    const { rpm, load } = info.value!.table
    return { row0: 0, column0: 0, row1: load.length - 1, column1: rpm.length - 1 }
  }
  /** Whether something is suggested for a cell that it does not hold yet. */
  function isOpen(row: number, column: number): boolean {
    const node = suggested.value?.nodes[row]?.[column]
    return node !== undefined && node.after !== node.before && node.after !== values.value[row]?.[column]
  }
  const untaken = computed(
    () =>
      suggested.value &&
      values.value.reduce((sum, cells, row) => sum + cells.filter((_, column) => isOpen(row, column)).length, 0),
  )
  function take(where: Selection, takes: (row: number, column: number) => boolean): void {
    const nodes = suggested.value?.nodes
    if (!nodes) return
    const next = editCells(values.value, where, (value, row, column) =>
      takes(row, column) ? nodes[row]![column]!.after : value,
    )
    edit(next, 'suggestion')
  }
  /** Takes all that is suggested but into cells set by hand, unless asked to. */
  function takeAll({ intoHand = false } = {}): void {
    const left = values.value.flatMap((cells, row) =>
      cells.flatMap((_, column) =>
        !intoHand && working.isByHand(row, column) && differsFromSuggestion(row, column) ? [{ row, column }] : [],
      ),
    )
    take(
      everything(),
      (row, column) =>
        (intoHand && working.isByHand(row, column)) || (isOpen(row, column) && !working.isByHand(row, column)),
    )
    leftByHand.value = left
  }
  const differsFromSuggestion = (row: number, column: number): boolean =>
    suggested.value?.nodes[row]?.[column] !== undefined &&
    suggested.value.nodes[row]![column]!.after !== values.value[row]![column]
  // What was left is told until the table is edited again or saved.
  watch([values, saved], () => (leftByHand.value = []), { flush: 'sync' })

  /** Gives cells without evidence the change of their neighbours. */
  function extend(): void {
    const { table } = info.value!
    const known = values.value.map((cells, row) =>
      cells.map((value, column) => {
        const node = suggested.value?.nodes[row]?.[column]
        const untouched = value === saved.value[row]![column]
        return node?.reason === 'no evidence' && untouched
          ? null
          : cellChange(saved.value[row]![column]!, value, table).size
      }),
    )
    const { values: fill, filled } = extendCells(table, known)
    edit(
      editCells(values.value, selection.value, (value, row, column) =>
        filled[row]![column] && fill[row]![column] !== null
          ? changeCell(saved.value[row]![column]!, fill[row]![column]!, table)
          : value,
      ),
    )
  }
  return {
    untaken,
    leftByHand,
    /** A new value for each selected cell. */
    enter: (to: (cell: number) => number) => edit(editCells(values.value, selection.value, to)),
    /**
     * Cells out of a spreadsheet, the first line the largest load unless it is said otherwise; what was understood is told in sentences.
     *
     * @throws Refusal 'no-cells' when it makes no sense
     */
    paste(text: string, smallestFirst = false): string[] {
      const { values: next, notes } = pasteCells(info.value!.table, values.value, selection.value, text, smallestFirst)
      edit(next)
      return notes
    },
    /** A percent on a trim, one percent of the value on a base table of fuel, half a degree of spark, a hundredth of lambda. */
    step: (sign: 1 | -1) => {
      const { kind } = info.value!.table
      edit(
        isBaseFuel(kind)
          ? scaleCells(values.value, selection.value, sign)
          : addToCells(
              values.value,
              selection.value,
              sign * (setsSpark({ kind }) ? SPARK_STEP : setsTarget({ kind }) ? LAMBDA_STEP : 1),
            ),
      )
    },
    line: () => edit(straightLine(info.value!.table, values.value, selection.value)),
    even: () => edit(evenOut(values.value, selection.value)),
    hold: () => edit(holdTop(values.value, ordered(selection.value).row0)),
    extend,
    takeSelection: () => take(selection.value, () => true),
    takeAll,
  }
}

export type TableEdits = ReturnType<typeof useTableEdits>
