import { DEFAULT_LIMITS } from '../change/limits'
import { factorFromPercent } from '../fuel/mixture'
import { extendCells } from '../table/extend'
import { build, type LoadGrid, type Matrix, type SparseMatrix } from '../table/table'

/** A change of fuel that is wanted, on breakpoints; straight between them. */
export interface Wanted extends LoadGrid {
  /** % of fuel, `[load][rpm]`; null where nothing is known, which then counts for nothing */
  pct: SparseMatrix
  /** how much a cell is used, `[load][rpm]`, zero or more */
  weight: Matrix
}

/** Load from which lean counts twice as much again. Common practice: an engine is hurt there. */
export const HIGH_LOAD = DEFAULT_LIMITS.highLoad
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
        : [{ row, column, rpm: rpm[column]!, load: load[row]!, factor: factorFromPercent(one) }],
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

/** Breakpoints of an axis from the first to the last of which anything is wanted. */
export function knownSpan(wanted: Wanted, axis: 'rpm' | 'load'): number[] {
  const known = new Set(wantedCells(wanted).map((one) => one[axis]))
  const points = wanted[axis]
  return points.slice(
    points.findIndex((one) => known.has(one)),
    points.findLastIndex((one) => known.has(one)) + 1,
  )
}

/** What a cell of which nothing is known counts where values have to stand there, too: hardly. */
const UNKNOWN_COUNTS = 0.02

/**
 * A wanted change without gaps, for a way whose values stand where nothing is known, too: such cells go on from those beside
 * them, and never leaner than now. They hardly count.
 */
export function withoutGaps(wanted: Wanted): Wanted {
  const { values } = extendCells(wanted, wanted.pct)
  const all = wantedCells(wanted)
  const usual = all.reduce((sum, one) => sum + wanted.weight[one.row]![one.column]!, 0) / Math.max(1, all.length)
  const isKnown = build(wanted, () => false)
  for (const { row, column } of all) isKnown[row]![column] = true
  return {
    ...wanted,
    pct: build(wanted, (row, column) =>
      isKnown[row]![column]! ? wanted.pct[row]![column]! : Math.max(0, values[row]![column] ?? 0),
    ),
    weight: build(wanted, (row, column) =>
      isKnown[row]![column]! ? wanted.weight[row]![column]! : UNKNOWN_COUNTS * usual,
    ),
  }
}
