import { isBaseFuel } from '../table/kinds'
import { resample } from '../table/resample'
import type { Table } from '../table/table'

/**
 * What several calibrations of like machines lend the next one: the cell-wise geometric mean of base tables (plain mean of
 * trims and advance), on the breakpoints of the first. It is nearer to a further machine than any one of them.
 *
 * @param tables of one kind and load axis; at least one
 * @throws RangeError for none, or for tables of different kinds
 */
export function shelfPrior(tables: readonly Table[]): Table {
  const [first] = tables
  if (!first) throw new RangeError('A prior needs at least one table.')
  if (tables.some((one) => one.kind !== first.kind)) throw new RangeError('The tables are of different kinds.')
  const alike = tables.map((one) => resample(one, first).table.values)
  const isBase = isBaseFuel(first.kind)
  const values = first.values.map((row, r) =>
    row.map((_, c) => {
      const cells = alike.map((one) => one[r]![c]!)
      if (!isBase || cells.some((cell) => cell <= 0)) return cells.reduce((sum, cell) => sum + cell, 0) / cells.length
      return Math.exp(cells.reduce((sum, cell) => sum + Math.log(cell), 0) / cells.length)
    }),
  )
  return { ...first, values }
}
