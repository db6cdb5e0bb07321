import { factorFromPercent, percentFromFactor } from '../fuel/mixture'
import { valueLimits, type Composition, type TableKind } from '../table/table'

/** What decides how a factor on the fuel is put into a table. */
export interface Delivery {
  kind: TableKind
  composition?: Composition
}

/**
 * New table value that gives `factor` times the fuel of the old one.
 *
 * A base table multiplies. A trim in percent composes with itself, (1 + old) x factor - 1; on a module that adds its
 * trims the percent is added.
 *
 * @param value old cell: fuel (any unit) or percent
 * @throws RangeError for tables that do not set fuel
 */
export function applyFactor(value: number, factor: number, { kind, composition = 'multiply' }: Delivery): number {
  if (kind === 'fuel base') return value * factor
  if (kind !== 'fuel trim') throw new RangeError(`A ${kind} table does not set fuel.`)
  if (composition === 'add') return value + percentFromFactor(factor)
  return percentFromFactor(factorFromPercent(value) * factor)
}

/** Factor on the fuel between two values of a cell: the inverse of `applyFactor`. A base cell of 0 gives 1. */
export function factorBetween(before: number, after: number, { kind, composition = 'multiply' }: Delivery): number {
  if (kind === 'fuel base') return before > 0 ? after / before : 1
  if (composition === 'add') return factorFromPercent(after - before)
  return factorFromPercent(after) / factorFromPercent(before)
}

/** How far a cell was changed, as its trade counts it: percent of fuel, or degrees of advance (any other table: its own unit). */
export function cellChange(before: number, after: number, delivery: Delivery): { size: number; unit: string } {
  const { kind } = delivery
  return kind.startsWith('fuel')
    ? { size: percentFromFactor(factorBetween(before, after, delivery)), unit: '%' }
    : { size: after - before, unit: valueLimits(kind).unit }
}

/** New value of a cell moved by so many percent of fuel, or degrees: the inverse of `cellChange`. */
export function changeCell(before: number, size: number, delivery: Delivery): number {
  return delivery.kind.startsWith('fuel') ? applyFactor(before, factorFromPercent(size), delivery) : before + size
}
