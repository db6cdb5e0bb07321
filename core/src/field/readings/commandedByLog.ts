import { median } from '../../numbers/median'
import { isRunning } from '../../run/engineState'
import type { RunColumns } from '../../run/run'
import { interpolate, nearest } from '../../table/lookup'
import { build, type LoadGrid, type Matrix, type Table } from '../../table/table'

/** Where a log says that another lambda was commanded than the table that commands it. */
export interface CommandedUnlike {
  /** cells of the grid in which the log is off the table */
  cells: number
  /** the cell furthest off: lambda by the log and by the table */
  worst: { rpm: number; load: number; logged: number; table: number }
}

/** Readings that a cell must have before its commanded lambda is believed, and how far off is worth a word, share. */
const LEAST_READINGS = 5
const WORTH_TELLING = 0.02

/**
 * What a controller commanded by its own log, over what its table says: 1 where they agree, or the log does not tell. Warm-up,
 * fuel for acceleration and the like stand in the log and not in the table.
 *
 * @param table that commanded lambda while the runs were made
 * @returns `[load][rpm]`; null where no run logs it, or the table's rows stand for something else
 */
export function commandedByLog(
  runs: readonly RunColumns[],
  grid: LoadGrid,
  table: Table,
): { ratio: Matrix; unlike: CommandedUnlike | null } | null {
  if (table.loadAxis !== grid.loadAxis || !runs.some((run) => run.commanded)) return null
  const inCell = build(grid, (): number[] => [])
  for (const run of runs) {
    const { rpm, commanded } = run
    const load = grid.loadAxis === 'throttle' ? run.throttle : run.manifold
    if (!commanded || !load) continue
    for (let i = 0; i < rpm.length; i++) {
      if (!(commanded[i]! > 0) || !isRunning(rpm[i]!) || !(load[i]! >= 0)) continue
      const ratio = commanded[i]! / interpolate(table, table.values, rpm[i]!, load[i]!)
      inCell[nearest(grid.load, load[i]!)]![nearest(grid.rpm, rpm[i]!)]!.push(ratio)
    }
  }
  const ratio = inCell.map((cells) => cells.map((some) => (some.length < LEAST_READINGS ? 1 : median(some))))
  return { ratio, unlike: unlikeOf(grid, table, ratio) }
}

function unlikeOf(grid: LoadGrid, table: Table, ratio: Matrix): CommandedUnlike | null {
  const off = grid.load.flatMap((load, row) =>
    grid.rpm.flatMap((rpm, column) => {
      const by = ratio[row]![column]!
      const own = interpolate(table, table.values, rpm, load)
      return Math.abs(by - 1) > WORTH_TELLING ? [{ rpm, load, logged: by * own, table: own, by: Math.abs(by - 1) }] : []
    }),
  )
  if (off.length === 0) return null
  const { by: _, ...worst } = off.reduce((most, one) => (one.by > most.by ? one : most))
  return { cells: off.length, worst }
}
