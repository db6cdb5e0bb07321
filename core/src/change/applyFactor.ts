import { isBaseFuel, kindOfTable } from '../table/kinds'
import { factorFromPercent, percentFromFactor } from '../fuel/mixture'
import type { Table } from '../table/table'

/** What decides how a factor on the fuel is put into a table. */
export type Delivery = Pick<Table, 'kind'> & Partial<Pick<Table, 'composition' | 'global'>>

/**
 * Fuel that a cell asks for: of a base table or one of filling its own value, of a wanted lambda one over it, of a trim the
 * factor on the fuel. A module that adds its trims
 * takes the cell and its global percent as one: 4 % in the cell with 4 % global act as 8 %.
 *
 * @param value cell: fuel (any unit) or percent
 * @throws RangeError for tables that do not set fuel
 * @example
 * fuelOfCell(4, { kind: 'fuel trim', composition: 'add', global: 4 }) // 1.08
 */
export function fuelOfCell(value: number, { kind, composition = 'multiply', global = 0 }: Delivery): number {
  if (isBaseFuel(kind)) return value
  if (kind === 'lambda target') return 1 / value
  if (kind !== 'fuel trim') throw new RangeError(`A ${kind} table does not set fuel.`)
  return factorFromPercent(composition === 'add' ? value + global : value)
}

/**
 * New table value that gives `factor` times the fuel of the old one.
 *
 * A base table multiplies. A trim in percent composes with itself, (1 + old) x factor - 1. On a module that adds its table
 * and its global trim the fuel of both together must rise: (1 + (old + global) / 100) x factor x 100 - 100 - global. A wanted
 * lambda divides.
 *
 * @param value old cell: fuel (any unit), lambda or percent
 * @throws RangeError for tables that do not set fuel
 * @example
 * // From 1.20 to 1.32 is 10 % more fuel.
 * applyFactor(20, 1.1, { kind: 'fuel trim', composition: 'add' }) // 32
 */
export function applyFactor(value: number, factor: number, delivery: Delivery): number {
  const fuel = fuelOfCell(value, delivery) * factor
  if (isBaseFuel(delivery.kind)) return fuel
  if (delivery.kind === 'lambda target') return 1 / fuel
  return percentFromFactor(fuel) - (delivery.composition === 'add' ? (delivery.global ?? 0) : 0)
}

/**
 * Factor on the fuel between two values of a cell: the inverse of `applyFactor`. A cell that asked for no fuel gives 1.
 *
 * @param now what the value after stands in, where that differs from before: another global trim
 */
export function factorBetween(before: number, after: number, delivery: Delivery, now: Delivery = delivery): number {
  const fuel = fuelOfCell(before, delivery)
  return fuel > 0 ? fuelOfCell(after, now) / fuel : 1
}

/**
 * How far a cell was changed, as its trade counts it: percent of fuel, also of a wanted lambda, as fuel goes as one over it;
 * degrees of advance; of any other table points of its own unit.
 *
 * @param now what the value after stands in, where that differs from before: another global trim
 * @example
 * cellChange(20, 22, { kind: 'spark base' }) // { size: 2, unit: '°' }
 */
export function cellChange(
  before: number,
  after: number,
  delivery: Delivery,
  now: Delivery = delivery,
): { size: number; unit: string } {
  const { sets, unit } = kindOfTable(delivery.kind)
  if (sets === 'fuel' || sets === 'target')
    return { size: percentFromFactor(factorBetween(before, after, delivery, now)), unit: '%' }
  return { size: after - before, unit }
}

/**
 * New value of a cell that is moved: the inverse of `cellChange`.
 *
 * @param before in the table's unit
 * @param size percent of fuel, degrees for a spark table
 * @example
 * changeCell(0.9, 5, { kind: 'lambda target' }).toFixed(3) // '0.857'
 */
export function changeCell(before: number, size: number, delivery: Delivery): number {
  const { sets } = kindOfTable(delivery.kind)
  return sets === 'fuel' || sets === 'target' ? applyFactor(before, factorFromPercent(size), delivery) : before + size
}
