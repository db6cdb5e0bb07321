import { type LoadGrid, type Matrix, type SparseMatrix } from '../table/table'

/** A change of fuel that is wanted, on breakpoints; straight between them. */
export interface Wanted extends LoadGrid {
  /** % of fuel, `[load][rpm]`; null where nothing is known, which then counts for nothing */
  pct: SparseMatrix
  /** how much a cell is used, `[load][rpm]`, zero or more */
  weight: Matrix
}

/** Load from which lean counts twice as much again. Common practice: an engine is hurt there. */
export const HIGH_LOAD = 70
/** What a rich residual, a lean one, and a lean one under load count in a cost. */
export const COUNTS = { rich: 1, lean: 2, leanUnderLoad: 4 } as const
/** Furthest lean that bands, a global trim and pressure may leave a cell under load, share. */
export const MOST_LEAN = 0.02

/** Cells of which something is wanted, as factors on the fuel, with where they stand. */
export function wantedCells({ rpm, load, pct, weight }: Wanted): WantedCell[] {
  return pct.flatMap((cells, row) =>
    cells.flatMap((one, column) =>
      one === null || !(weight[row]![column]! > 0)
        ? []
        : [{ row, column, rpm: rpm[column]!, load: load[row]!, factor: 1 + one / 100 }],
    ),
  )
}

/** A cell, and the factor on the fuel that is wanted there. */
export interface WantedCell {
  row: number
  column: number
  rpm: number
  load: number
  factor: number
}

/** Those of them that must not be left lean. */
export const cellsUnderLoad = (wanted: Wanted): WantedCell[] =>
  wantedCells(wanted).filter((one) => one.load >= HIGH_LOAD)
