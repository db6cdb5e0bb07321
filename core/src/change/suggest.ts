import type { CylinderField, Field } from '../field/field'
import { factorFromPercent, percentFromFactor } from '../fuel/mixture'
import { fillFromNeighbours } from '../table/edits'
import { build, valueLimits, type Grid, type Matrix, type SparseMatrix, type Table } from '../table/table'
import { applyFactor } from './applyFactor'

/** How far one pass may go. Percent; leaner limits are given as positive sizes. */
export interface ChangeLimits {
  richest: number
  leanest: number
  /** Tighter leaner limit from this load up */
  leanestHighLoad: number
  highLoad: number
  /** Changes smaller than this are not worth a cell, % */
  least: number
  /** Fill nodes without evidence from their neighbours */
  fill: boolean
}

export const DEFAULT_LIMITS: ChangeLimits = {
  richest: 15,
  leanest: 4,
  leanestHighLoad: 2.5,
  highLoad: 70,
  least: 0.3,
  fill: false,
}

/** What decided a node's change. */
export const CHANGE_REASONS = [
  'as estimated',
  'shrunk, thin evidence',
  'limited, richer',
  'limited, leaner',
  'held by closed loop',
  'no evidence',
  'filled from neighbours',
  'too small to matter',
  'limited by the table',
] as const
export type ChangeReason = (typeof CHANGE_REASONS)[number]

/** One line of the arithmetic behind a node, as numbers; the interface prints it. */
export interface ArithmeticStep {
  what: 'measured' | 'estimate' | 'shrink' | 'limit' | 'apply' | 'stay'
  /** Named inputs, in the order in which they are written */
  values: Record<string, number>
  result: number
  reason?: ChangeReason
}

export interface NodeChange {
  /** percent of fuel */
  changePct: number
  reason: ChangeReason
  before: number
  after: number
  arithmetic: ArithmeticStep[]
}

/** Suggested change by node, `[load][rpm]`. */
export interface SuggestedChange {
  cylinder: number | null
  nodes: NodeChange[][]
  values: Matrix
  /** lambda expected after the change; null where nothing is known */
  predicted: SparseMatrix
}

/**
 * Share of the estimate that is kept: the part of the mean square that is not noise, so a node whose interval is as wide
 * as its change keeps about half (positive-part shrinkage; James and Stein 1961).
 *
 * @param change estimate; @param half half width of the 90 % interval; same unit
 */
export function keptShare(change: number, half: number): number {
  if (!(Math.abs(change) > 0)) return 1
  // 1.645 half widths of a normal distribution are one standard error.
  const error = half / 1.645
  return (change * change) / (change * change + error * error)
}

/**
 * Suggested change of a fuel table from the field of one cylinder, or of the cylinder that needs the most fuel where the
 * table serves several: a shared table must not leave the leanest one lean.
 *
 * Order: estimate, shrunk where the interval is wide, limited for this pass, untouched in held zones and without evidence.
 *
 * @throws RangeError when table and field do not share breakpoints, or the table does not set fuel
 */
export function suggestChange(
  table: Table,
  field: Field,
  limits: ChangeLimits = DEFAULT_LIMITS,
  cylinder: number | null = null,
): SuggestedChange {
  if (!sameGrid(table, field.grid)) throw new RangeError('The field stands on other breakpoints than the table.')
  const chosen = (row: number, column: number): CylinderField => servedCylinder(field, cylinder, row, column)
  const fills = limits.fill
    ? fillFromNeighbours(
        build(table, (row, column) =>
          chosen(row, column).held[row]![column] ? null : chosen(row, column).changePct[row]![column]!,
        ),
      )
    : null
  const nodes = build(table, (row, column) => {
    const field = chosen(row, column)
    const filled = fills?.filled[row]![column] && !field.held[row]![column] ? fills.values[row]![column]! : null
    return suggestNode(table, field, limits, row, column, filled)
  })
  const values = build(table, (row, column) => nodes[row]![column]!.after)
  return {
    cylinder,
    nodes,
    values,
    predicted: build(table, (r, k) => predictNode(chosen(r, k), r, k, nodes[r]![k]!.changePct)),
  }
}

/**
 * The cylinder that a table serves at a node: its own, or for a shared table the one that needs the most fuel there.
 *
 * @throws RangeError when the field has no such cylinder
 */
export function servedCylinder(field: Field, cylinder: number | null, row: number, column: number): CylinderField {
  const candidates = cylinder === null ? field.cylinders : field.cylinders.filter((one) => one.cylinder === cylinder)
  if (candidates.length === 0) throw new RangeError(`The runs have no reading of cylinder ${cylinder}.`)
  return candidates.reduce((best, one) =>
    (one.changePct[row]![column] ?? -Infinity) > (best.changePct[row]![column] ?? -Infinity) ? one : best,
  )
}

/** Whether two grids have the same breakpoints. */
export function sameGrid(a: Grid, b: Grid): boolean {
  const same = (x: readonly number[], y: readonly number[]): boolean =>
    x.length === y.length && x.every((value, i) => value === y[i])
  return same(a.rpm, b.rpm) && same(a.load, b.load)
}

function suggestNode(
  table: Table,
  field: CylinderField,
  limits: ChangeLimits,
  row: number,
  column: number,
  filled: number | null,
): NodeChange {
  const before = table.values[row]![column]!
  const stay = (reason: ChangeReason, arithmetic: ArithmeticStep[] = []): NodeChange => ({
    changePct: 0,
    reason,
    before,
    after: before,
    arithmetic: [...arithmetic, { what: 'stay', values: {}, result: before, reason }],
  })
  const measured = field.changePct[row]![column] ?? null
  if (field.held[row]![column] && !field.byTrim[row]![column]) return stay('held by closed loop')
  if (measured === null && filled === null) return stay('no evidence')

  const arithmetic: ArithmeticStep[] = []
  let change: number
  let reason: ChangeReason = 'as estimated'
  if (measured !== null) {
    arithmetic.push({
      what: 'measured',
      values: { lambda: field.lambda[row]![column]!, target: field.target[row]![column]! },
      result: measured,
    })
    const half = (field.highPct[row]![column]! - field.lowPct[row]![column]!) / 2
    const share = keptShare(measured, half)
    change = measured * share
    if (share < 0.95) reason = 'shrunk, thin evidence'
    arithmetic.push({ what: 'shrink', values: { change: measured, share, half }, result: change })
  } else {
    change = filled!
    reason = 'filled from neighbours'
    arithmetic.push({ what: 'estimate', values: { neighbours: change }, result: change, reason })
  }
  const leanest = -(table.load[row]! >= limits.highLoad ? limits.leanestHighLoad : limits.leanest)
  if (change > limits.richest) {
    arithmetic.push({
      what: 'limit',
      values: { change, limit: limits.richest },
      result: limits.richest,
      reason: 'limited, richer',
    })
    change = limits.richest
    reason = 'limited, richer'
  } else if (change < leanest) {
    arithmetic.push({ what: 'limit', values: { change, limit: leanest }, result: leanest, reason: 'limited, leaner' })
    change = leanest
    reason = 'limited, leaner'
  }
  if (Math.abs(change) < limits.least) return stay('too small to matter', arithmetic)
  const { least, most } = valueLimits(table.kind)
  const wanted = applyFactor(before, factorFromPercent(change), table)
  const after = Math.min(most, Math.max(least, wanted))
  if (after !== wanted) reason = 'limited by the table'
  arithmetic.push({ what: 'apply', values: { before, change }, result: after, reason })
  return { changePct: change, reason, before, after, arithmetic }
}

function predictNode(field: CylinderField, row: number, column: number, changePct: number): number | null {
  const lambda = field.lambda[row]![column]
  if (lambda === null || lambda === undefined) return null
  // In a held zone the loop takes the change back: the reading stays where it is. Told by trims, lambda is without the loop.
  return field.held[row]![column] && !field.byTrim[row]![column] ? lambda : lambda / factorFromPercent(changePct)
}

/** lambda to expect at each node once its fuel is multiplied by these factors; null where nothing is known. */
export function predictLambda(field: Field, cylinder: number | null, factors: Matrix): SparseMatrix {
  return factors.map((cells, row) =>
    cells.map((factor, column) =>
      predictNode(servedCylinder(field, cylinder, row, column), row, column, percentFromFactor(factor)),
    ),
  )
}
