import type { Corrected } from '../field/field'
import { build, type LoadAxis, type LoadGrid, type Table } from '../table/table'
import { interpolate } from '../table/lookup'
import { factorBetween } from './applyFactor'

/** A fuel table as it was while some runs were made, and as it is now. */
export interface TableSince {
  /** cylinder it serves; null when it serves all */
  cylinder: number | null
  then: Table
  now: Table
}

/** Factor between two states of a table at a point; where its rows stand for something else, the largest of that column. */
function factorAt({ then, now }: TableSince, axis: LoadAxis, rpm: number, load: number): number {
  const loads = now.loadAxis === axis ? [load] : now.load
  return loads
    .map((at) =>
      factorBetween(interpolate(then, then.values, rpm, at), interpolate(now, now.values, rpm, at), then, now),
    )
    .reduce((most, one) => (Math.abs(Math.log(one)) > Math.abs(Math.log(most)) ? one : most))
}

/**
 * Factor by which a cylinder's fuel was changed since some runs were made: all tables that serve it multiply. What the
 * runs ask for, over this, is what is left to do.
 *
 * @param axis what `load` stands for
 */
export function fuelSince(
  tables: readonly TableSince[],
  cylinder: number,
  axis: LoadAxis,
  rpm: number,
  load: number,
): number {
  return tables
    .filter((one) => one.cylinder === null || one.cylinder === cylinder)
    .reduce((factor, one) => factor * factorAt(one, axis, rpm, load), 1)
}

/** The same on the breakpoints of a field, table by table. */
export function correctedOn(grid: LoadGrid, tables: readonly TableSince[]): Corrected[] {
  return tables.map((one) => ({
    cylinder: one.cylinder,
    factor: build(grid, (row, column) => factorAt(one, grid.loadAxis, grid.rpm[column]!, grid.load[row]!)),
  }))
}

/** Cells of a table that were changed since. */
export function cellsSince({ then, now }: TableSince): number {
  const isMoved = (row: number, column: number): boolean =>
    Math.abs(factorBetween(then.values[row]![column]!, now.values[row]![column]!, then, now) - 1) > 1e-9
  return now.values.reduce((sum, cells, row) => sum + cells.filter((_, column) => isMoved(row, column)).length, 0)
}
