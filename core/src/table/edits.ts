import { beside } from './beside'
import type { Grid, Matrix } from './table'

/** A rectangle of cells, ends included, rows and columns in any order. */
export interface Selection {
  row0: number
  column0: number
  row1: number
  column1: number
}

/** The same rectangle with its ends in rising order. */
export function ordered(selection: Selection): Selection {
  return {
    row0: Math.min(selection.row0, selection.row1),
    row1: Math.max(selection.row0, selection.row1),
    column0: Math.min(selection.column0, selection.column1),
    column1: Math.max(selection.column0, selection.column1),
  }
}

/**
 * Makes each cell of a selection anew from its old value.
 *
 * @param values `[load][rpm]`
 * @returns a copy
 */
export function editCells(
  values: Matrix,
  selection: Selection,
  change: (value: number, row: number, column: number) => number,
): Matrix {
  const { row0, row1, column0, column1 } = ordered(selection)
  return values.map((cells, row) =>
    cells.map((value, column) =>
      row >= row0 && row <= row1 && column >= column0 && column <= column1 ? change(value, row, column) : value,
    ),
  )
}

/**
 * Adds a step to each cell of the selection.
 *
 * @param values `[load][rpm]`
 * @param step in the table's unit
 * @returns a copy
 */
export const addToCells = (values: Matrix, selection: Selection, step: number): Matrix =>
  editCells(values, selection, (value) => value + step)

/**
 * Scales each cell of the selection.
 *
 * @param values `[load][rpm]`
 * @param percent +5 makes 100 to 105
 * @returns a copy
 */
export const scaleCells = (values: Matrix, selection: Selection, percent: number): Matrix =>
  editCells(values, selection, (value) => value * (1 + percent / 100))

/** Fraction of the way from the first to the last of some breakpoints, by their true distance; 0 on a single one. */
function along(points: readonly number[], index: number, first: number, last: number): number {
  return first === last ? 0 : (points[index]! - points[first]!) / (points[last]! - points[first]!)
}

/**
 * A straight line between the ends of the selection, by breakpoint distance: along rpm on one row, along load on one
 * column, and between the four corners on a block.
 *
 * @param values `[load][rpm]`
 * @returns a copy
 */
export function straightLine(grid: Grid, values: Matrix, selection: Selection): Matrix {
  const { row0, row1, column0, column1 } = ordered(selection)
  const corner = (row: number, column: number): number => values[row]![column]!
  return editCells(values, selection, (_, row, column) => {
    const up = along(grid.load, row, row0, row1)
    const across = along(grid.rpm, column, column0, column1)
    return (
      (corner(row0, column0) * (1 - across) + corner(row0, column1) * across) * (1 - up) +
      (corner(row1, column0) * (1 - across) + corner(row1, column1) * across) * up
    )
  })
}

/**
 * Evens out a selection: each cell moves half way to the mean of its neighbours inside the selection.
 *
 * @param values `[load][rpm]`
 * @returns a copy
 */
export function evenOut(values: Matrix, selection: Selection): Matrix {
  const { row0, row1, column0, column1 } = ordered(selection)
  return editCells(values, selection, (value, row, column) => {
    let sum = 0
    let count = 0
    for (const [r, c] of beside([row, column])) {
      if (r < row0 || r > row1 || c < column0 || c > column1) continue
      sum += values[r]![c]!
      count++
    }
    return count ? (value + sum / count) / 2 : value
  })
}

/**
 * Makes the top load rows equal to the lowest of them, so that the controller does not interpolate between them.
 *
 * @param values `[load][rpm]`
 * @param fromRow the lowest of these rows
 * @returns a copy
 */
export function holdTop(values: Matrix, fromRow: number): Matrix {
  const source = values[fromRow]
  return source ? values.map((cells, row) => (row > fromRow ? [...source] : cells)) : values
}

/** Share by which two values may differ and still be the same cell, written and read back. */
const SAME = 1e-9

/** Values as they were where they are the same but for rounding: a table written to a file and read back is no change. */
export function keepSame(values: Matrix, before: Matrix): Matrix {
  return values.map((cells, row) =>
    cells.map((value, column) => {
      const was = before[row]?.[column]
      return was !== undefined && Math.abs(value - was) <= SAME * Math.max(1, Math.abs(was)) ? was : value
    }),
  )
}

/** Cell by cell, `b - a`. Both of one shape. */
export function difference(a: Matrix, b: Matrix): Matrix {
  return b.map((cells, row) => cells.map((value, column) => value - a[row]![column]!))
}
