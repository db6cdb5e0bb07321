import { fuelOfCell } from '../change/applyFactor'
import { factorFromPercent, percentFromFactor } from '../fuel/mixture'
import { interpolate } from '../table/lookup'
import { build, filled, type Matrix, type Table } from '../table/table'
import { leastCost } from './leastCost'
import type { Given } from './left'
import { onBreakpoints, type Places } from './onBreakpoints'
import { pointsOf } from './points'
import type { Wanted } from './wanted'

/** A change of every cell of a table, % of fuel. */
export interface WholeTable extends Places {
  values: Matrix
}

/** The wanted change itself, cell by cell; nothing where nothing is known. */
export const asWanted = ({ rpm, load, pct }: Wanted): WholeTable => ({
  rpm,
  load,
  values: pct.map((cells) => cells.map((one) => one ?? 0)),
})

/** Fuel that each cell of a table asks for. */
const fuelOf = (table: Table): Matrix => table.values.map((cells) => cells.map((one) => fuelOfCell(one, table)))

/**
 * The change of each cell of a fuel table that leaves the least, between its cells, too, where the controller goes straight in
 * fuel. Cells that nothing tells of stay as they are.
 *
 * @throws RangeError when the table does not set fuel, or nothing is wanted
 */
export function fitWholeTable(wanted: Wanted, table: Table): WholeTable {
  const basis = onBreakpoints(pointsOf(wanted), table, fuelOf(table))
  const { settings } = leastCost(pointsOf(wanted), { ...basis, wide: 0 }, new Float64Array(basis.size).fill(1))
  const wide = table.rpm.length
  return {
    rpm: table.rpm,
    load: table.load,
    values: build(table, (row, column) => percentFromFactor(settings[row * wide + column]!)),
  }
}

/** Factor that a change of a table's cells gives. @param table as it is now; without one its cells all ask for the same */
export function givenByWhole(change: WholeTable, table?: Table): Given {
  const grid = { rpm: [...change.rpm], load: [...change.load] }
  const now = table ? fuelOf(table) : filled(grid, 1)
  const then = build(grid, (row, column) => now[row]![column]! * factorFromPercent(change.values[row]![column]!))
  return (rpm, load) => {
    const before = interpolate(grid, now, rpm, load)
    return before > 0 ? interpolate(grid, then, rpm, load) / before : 1
  }
}
