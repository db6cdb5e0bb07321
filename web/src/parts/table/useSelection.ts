import { computed, nextTick, type Ref } from 'vue'
import { ordered, type Grid, type Matrix, type Selection } from '@yuzumix/core'

/** Where a key takes the end of the selection, in rows and columns; beyond the table it stops at its edge. */
const MOVES: Record<string, [rows: number, columns: number]> = {
  ArrowUp: [1, 0],
  ArrowDown: [-1, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
  Home: [0, -Infinity],
  End: [0, Infinity],
}

/**
 * The selected cells of a table: moved and stretched by keys, drawn with the pointer.
 *
 * @param selection from where it was begun to where it ends; the end has the focus
 * @param body element that holds the cells, each with `data-at="row:column"`
 * @param beforeMove called before the focus goes elsewhere
 */
export function useSelection(
  selection: Ref<Selection>,
  grid: () => Grid,
  body: Ref<HTMLElement | undefined>,
  beforeMove: () => void,
) {
  const chosen = computed(() => ordered(selection.value))
  const within = (least: number, value: number, most: number): boolean => value >= least && value <= most
  const isIn = (row: number, column: number): boolean =>
    within(chosen.value.row0, row, chosen.value.row1) && within(chosen.value.column0, column, chosen.value.column1)
  const isActive = (row: number, column: number): boolean =>
    selection.value.row1 === row && selection.value.column1 === column
  /** The selected part of a matrix. */
  function part(values: Matrix): Matrix {
    const { row0, row1, column0, column1 } = chosen.value
    return values.slice(row0, row1 + 1).map((cells) => cells.slice(column0, column1 + 1))
  }

  async function go(row: number, column: number, extend: boolean): Promise<void> {
    beforeMove()
    const r = Math.min(grid().load.length - 1, Math.max(0, row))
    const c = Math.min(grid().rpm.length - 1, Math.max(0, column))
    selection.value = extend
      ? { ...selection.value, row1: r, column1: c }
      : { row0: r, column0: c, row1: r, column1: c }
    await nextTick()
    body.value?.querySelector<HTMLElement>(`[data-at="${r}:${c}"]`)?.focus()
  }
  let dragging = false
  return {
    isIn,
    isActive,
    part,
    /** Moves by one of the keys above. */
    move(event: KeyboardEvent): void {
      const [rows, columns] = MOVES[event.key]!
      void go(selection.value.row1 + rows, selection.value.column1 + columns, event.shiftKey)
    },
    all(): void {
      selection.value = { row0: 0, column0: 0, row1: grid().load.length - 1, column1: grid().rpm.length - 1 }
    },
    beginDrag(event: PointerEvent, row: number, column: number): void {
      if (event.button !== 0) return
      dragging = true
      void go(row, column, event.shiftKey)
    },
    dragTo(row: number, column: number): void {
      if (dragging) selection.value = { ...selection.value, row1: row, column1: column }
    },
    endDrag(): void {
      dragging = false
    },
  }
}
