import type { Ref } from 'vue'
import {
  addToCells,
  cellChange,
  changeCell,
  editCells,
  evenOut,
  extendCells,
  holdTop,
  ordered,
  scaleCells,
  setCells,
  straightLine,
  type Matrix,
  type Selection,
  type TableInfo,
} from '@yuzumix/core'

/** Degrees that a key moves the spark by. */
const SPARK_STEP = 0.5

/** What a stage suggests for each cell. */
export interface Suggestion {
  nodes: { after: number; reason: string }[][]
}

/** Edits of the working table over the selection. Each makes new values and hands them to `edit`. */
export function useTableEdits(
  info: Ref<TableInfo | null>,
  working: { values: Ref<Matrix>; saved: Ref<Matrix>; edit: (next: Matrix) => void },
  selection: Ref<Selection>,
  suggested: Ref<Suggestion | null>,
) {
  const { values, saved, edit } = working

  function everything(): Selection {
    const { rpm, load } = info.value!.table
    return { row0: 0, column0: 0, row1: load.length - 1, column1: rpm.length - 1 }
  }
  function take(where: Selection): void {
    const nodes = suggested.value?.nodes
    if (nodes) edit(editCells(values.value, where, (_, row, column) => nodes[row]![column]!.after))
  }
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
  function paste(cells: Matrix): void {
    const { row0, row1, column0 } = ordered(selection.value)
    // A spreadsheet shows the highest load first, so the block hangs from the top of the selection; its rows come in load order.
    const top = cells.length === 1 ? row1 : Math.max(row1, row0)
    const bottom = top - cells.length + 1
    edit(
      editCells(values.value, everything(), (value, row, column) => cells[row - bottom]?.[column - column0] ?? value),
    )
  }
  return {
    set: (value: number) => edit(setCells(values.value, selection.value, value)),
    /** A percent on a trim, one percent of the value on a fuel base table, half a degree of spark. */
    step: (sign: 1 | -1) => {
      const { kind } = info.value!.table
      edit(
        kind === 'fuel base'
          ? scaleCells(values.value, selection.value, sign)
          : addToCells(values.value, selection.value, kind.startsWith('spark') ? sign * SPARK_STEP : sign),
      )
    },
    line: () => edit(straightLine(info.value!.table, values.value, selection.value)),
    even: () => edit(evenOut(values.value, selection.value)),
    hold: () => edit(holdTop(values.value, ordered(selection.value).row0)),
    extend,
    paste,
    takeSelection: () => take(selection.value),
    takeAll: () => take(everything()),
  }
}

export type TableEdits = ReturnType<typeof useTableEdits>
