import type { CylinderField, Field } from '../field/field'
import { isMisfire } from '../field/misfires'
import { factorFromPercent, percentFromFactor } from '../fuel/mixture'
import { extendCells } from '../table/extend'
import { build, sameGrid, valueLimits, type Grid, type Matrix, type SparseMatrix, type Table } from '../table/table'
import { applyFactor } from './applyFactor'
import { DEFAULT_LIMITS, leanestAt, type ChangeLimits } from './limits'
import { fuelSince, type TableSince } from './sinceMeasured'
import { taperChanges } from './taper'

/** What decided a cell's change. */
export const CHANGE_REASONS = [
  'as estimated',
  'bridged between readings',
  'shrunk, thin evidence',
  'limited, richer',
  'limited, leaner',
  'held by closed loop',
  'misfire, no fuel',
  'no evidence',
  'interval too wide',
  'filled from neighbours',
  'tapered off',
  'equal with the rows above high load',
  'too small to matter',
  'limited by the table',
] as const
export type ChangeReason = (typeof CHANGE_REASONS)[number]

/** One line of the arithmetic behind a cell, as numbers; the interface prints it. */
export interface ArithmeticStep {
  what: 'measured' | 'bridged' | 'since' | 'filled' | 'taper' | 'equal' | 'shrink' | 'limit' | 'apply' | 'stay'
  /** Named inputs, in the order in which they are written */
  values: Record<string, number>
  result: number
  reason?: ChangeReason
}

export interface NodeChange {
  /** percent of fuel */
  changePct: number
  reason: ChangeReason
  /** told by readings about it, none of them at it */
  bridged: boolean
  before: number
  after: number
  arithmetic: ArithmeticStep[]
}

/** Suggested change by cell, `[load][rpm]`. */
export interface SuggestedChange {
  cylinder: number | null
  nodes: NodeChange[][]
  values: Matrix
  /** lambda expected after the change; null where nothing is known */
  predicted: SparseMatrix
}

/** % beside an interval's half width, so that no row alone has the say. */
const LEAST_HALF = 0.5

/**
 * Share of the estimate that is kept: the part of the mean square that is not noise, so a cell whose interval is as wide
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
 * Order: estimate, less what was changed since the runs were made, shrunk where the interval is wide, limited for this
 * pass; untouched in held zones, where the engine misfires, without evidence and where the interval is too wide, but for a taper that leaves no cliff
 * at the border of what is known.
 *
 * @param since fuel tables that were changed since the runs were made; the same correction is never taken twice
 * @throws RangeError when table and field do not share breakpoints, or the table does not set fuel
 * @example
 * const { values } = suggestChange(table, estimateField(runs, options))
 */
export function suggestChange(
  table: Table,
  field: Field,
  limits: ChangeLimits = DEFAULT_LIMITS,
  cylinder: number | null = null,
  since: readonly TableSince[] = [],
): SuggestedChange {
  if (!sameGrid(table, field.grid)) throw new RangeError('The field stands on other breakpoints than the table.')
  const needs = build(table, (row, column) =>
    needAt(field, servedCylinder(field, cylinder, row, column, since), since, row, column),
  )
  const told = build(table, (row, column) => ownStep(needs[row]![column]!, limits, table.load[row]!))
  const own = limits.equal ? equalAbove(table, needs, told, limits) : told
  const filled = limits.fill ? fillNeeds(table, needs, own) : null
  const tapered = taperChanges(
    own.map((cells, row) => cells.map((one, column) => one?.change ?? filled?.[row]![column] ?? null)),
    needs.map((cells) => cells.map(({ state }) => state === 'held' || state === 'misfire')),
    limits.edge,
  )
  const nodes = build(table, (row, column) => {
    const [fill, taper] = [filled?.[row]![column] ?? null, tapered[row]![column] ?? null]
    const sum =
      own[row]![column] ??
      (fill !== null
        ? limited(onward('filled', fill), limits, table.load[row]!)
        : taper !== null
          ? limited(onward('taper', taper), limits, table.load[row]!)
          : null)
    return suggestNode(table, [row, column], needs[row]![column]!, sum, limits)
  })
  return {
    cylinder,
    nodes,
    values: build(table, (row, column) => nodes[row]![column]!.after),
    predicted: build(table, (row, column) => predictNode(needs[row]![column]!, nodes[row]![column]!.changePct)),
  }
}

/**
 * One change for all rows from high load up, at each speed: there the plate no longer rules the air. Their changes are
 * weighed by how sure they are; cells that a loop holds, or that misfire, are left out of it and alone.
 */
function equalAbove(grid: Grid, needs: Need[][], own: (Sum | null)[][], limits: ChangeLimits): (Sum | null)[][] {
  const isUpper = (row: number): boolean => grid.load[row]! >= limits.highLoad
  const rows = grid.load.flatMap((_, row) => (isUpper(row) ? [row] : []))
  const common = grid.rpm.map((_, column) => {
    const sums = rows.flatMap((row) => {
      const sum = own[row]![column]
      return sum ? [{ change: sum.change, weight: 1 / (LEAST_HALF + needs[row]![column]!.half) ** 2 }] : []
    })
    const weight = sums.reduce((total, one) => total + one.weight, 0)
    return sums.length ? sums.reduce((total, one) => total + one.weight * one.change, 0) / weight : null
  })
  return own.map((cells, row) =>
    cells.map((sum, column) => {
      const change = common[column]!
      const { state } = needs[row]![column]!
      if (!isUpper(row) || change === null || state === 'held' || state === 'misfire') return sum
      return limited(onward('equal', change), limits, grid.load[row]!)
    }),
  )
}

/** What a cell needs, and how that is known. */
interface Need {
  state: 'known' | 'held' | 'misfire' | 'unknown'
  lambda: number | null
  target: number
  /** %, as measured, and what is left of it after what was changed since */
  measured: number
  left: number
  /** factor on the fuel since the runs were made */
  moved: number
  /** half width of the interval, % */
  half: number
  /** readings lie about it, none at it */
  isBridged: boolean
}

function needAt(field: Field, one: CylinderField, since: readonly TableSince[], row: number, column: number): Need {
  const { grid } = field
  const moved = since.length ? fuelSince(since, one.cylinder, grid.loadAxis, grid.rpm[column]!, grid.load[row]!) : 1
  const measured = one.changePct[row]![column] ?? null
  const isHeld = one.held[row]![column]! && !one.byTrim[row]![column]
  const [low, high] = [one.lowPct[row]![column] ?? null, one.highPct[row]![column] ?? null]
  return {
    state: isMisfire(field.misfires, grid, one.cylinder, row, column)
      ? 'misfire'
      : isHeld
        ? 'held'
        : measured === null
          ? 'unknown'
          : 'known',
    lambda: one.lambda[row]![column] ?? null,
    target: one.target[row]![column]!,
    measured: measured ?? 0,
    left: percentFromFactor(factorFromPercent(measured ?? 0) / moved),
    moved,
    half: low === null || high === null ? 0 : (high - low) / 2,
    isBridged: one.evidence[row]![column] === 'bridged',
  }
}

/** Changes of the cells beyond all readings, %; null where there is nothing to go on from, or a loop holds. */
function fillNeeds(grid: Grid, needs: Need[][], own: (Sum | null)[][]): SparseMatrix {
  const known = needs.map((cells, row) => cells.map(({ left }, column) => (own[row]![column] ? left : null)))
  const { values, filled } = extendCells(grid, known)
  return build(grid, (row, column) =>
    filled[row]![column] && needs[row]![column]!.state === 'unknown' ? values[row]![column]! : null,
  )
}

/**
 * The cylinder that a table serves at a cell: its own, or for a shared table the one that needs the most fuel there.
 *
 * @param since fuel tables that were changed since the runs were made
 * @throws RangeError when the field has no such cylinder
 */
export function servedCylinder(
  field: Field,
  cylinder: number | null,
  row: number,
  column: number,
  since: readonly TableSince[] = [],
): CylinderField {
  const candidates = cylinder === null ? field.cylinders : field.cylinders.filter((one) => one.cylinder === cylinder)
  if (candidates.length === 0) throw new RangeError(`The runs have no reading of cylinder ${cylinder}.`)
  if (candidates.length === 1) return candidates[0]!
  const { loadAxis, rpm, load } = field.grid
  const left = (one: CylinderField): number => {
    const change = one.changePct[row]![column] ?? null
    if (change === null) return -Infinity
    return factorFromPercent(change) / fuelSince(since, one.cylinder, loadAxis, rpm[column]!, load[row]!)
  }
  return candidates.reduce((best, one) => (left(one) > left(best) ? one : best))
}

/** How far the arithmetic has come, and what decided it so far. */
interface Sum {
  change: number
  reason: ChangeReason
  steps: ArithmeticStep[]
}

/** The change that a cell's own estimate asks for, limited; null where there is none, or none to go by. */
function ownStep(need: Need, limits: ChangeLimits, load: number): Sum | null {
  const isTold = need.state === 'known' && need.half <= limits.widest && (limits.bridge || !need.isBridged)
  return isTold ? limited(shrunk(need), limits, load) : null
}

function suggestNode(
  table: Table,
  [row, column]: readonly [number, number],
  need: Need,
  sum: Sum | null,
  limits: ChangeLimits,
): NodeChange {
  const before = table.values[row]![column]!
  const stay = (reason: ChangeReason, steps: ArithmeticStep[] = []): NodeChange => ({
    changePct: 0,
    reason,
    bridged: false,
    before,
    after: before,
    arithmetic: [...steps, { what: 'stay', values: {}, result: before, reason }],
  })
  if (need.state === 'held') return stay('held by closed loop')
  if (need.state === 'misfire') return stay('misfire, no fuel')
  if (!sum) return stay(need.state === 'known' && need.half > limits.widest ? 'interval too wide' : 'no evidence')
  if (Math.abs(sum.change) < limits.least) return stay('too small to matter', sum.steps)
  const { least, most } = valueLimits(table.kind)
  const wanted = applyFactor(before, factorFromPercent(sum.change), table)
  const after = Math.min(most, Math.max(least, wanted))
  if (after !== wanted) sum.reason = 'limited by the table'
  return {
    changePct: sum.change,
    reason: sum.reason,
    bridged: need.isBridged || need.state === 'unknown',
    before,
    after,
    arithmetic: [
      ...sum.steps,
      { what: 'apply', values: { before, change: sum.change }, result: after, reason: sum.reason },
    ],
  }
}

const ONWARD = {
  filled: 'filled from neighbours',
  taper: 'tapered off',
  equal: 'equal with the rows above high load',
} as const

/** A change that comes from the cells beside. */
function onward(what: keyof typeof ONWARD, change: number): Sum {
  const reason = ONWARD[what]
  return { change, reason, steps: [{ what, values: { neighbours: change }, result: change, reason }] }
}

/** The estimate, less what was changed since, shrunk for its interval. */
function shrunk({ lambda, target, measured, left, moved, half, isBridged }: Need): Sum {
  const steps: ArithmeticStep[] = [
    { what: isBridged ? 'bridged' : 'measured', values: { lambda: lambda!, target }, result: measured },
  ]
  if (moved !== 1)
    steps.push({ what: 'since', values: { change: measured, moved: percentFromFactor(moved) }, result: left })
  const share = keptShare(left, half)
  const change = left * share
  steps.push({ what: 'shrink', values: { change: left, share, half }, result: change })
  const reason = share < 0.95 ? 'shrunk, thin evidence' : isBridged ? 'bridged between readings' : 'as estimated'
  return { change, reason, steps }
}

function limited(sum: Sum, limits: ChangeLimits, load: number): Sum {
  const leanest = -leanestAt(load, limits)
  const to = Math.min(limits.richest, Math.max(leanest, sum.change))
  if (to === sum.change) return sum
  const reason = to > 0 || sum.change > limits.richest ? 'limited, richer' : 'limited, leaner'
  return {
    change: to,
    reason,
    steps: [...sum.steps, { what: 'limit', values: { change: sum.change, limit: to }, result: to, reason }],
  }
}

function predictNode({ state, lambda, moved }: Need, changePct: number): number | null {
  // In a held zone the loop takes the change back: the reading stays where it is.
  return lambda === null || state === 'held' ? lambda : lambda / (moved * factorFromPercent(changePct))
}

/**
 * lambda to expect at each cell once its fuel is multiplied by these factors; null where nothing is known.
 *
 * @param since fuel tables that were changed since the runs were made
 */
export function predictLambda(
  field: Field,
  cylinder: number | null,
  factors: Matrix,
  since: readonly TableSince[] = [],
): SparseMatrix {
  return factors.map((cells, row) =>
    cells.map((factor, column) =>
      predictNode(
        needAt(field, servedCylinder(field, cylinder, row, column, since), since, row, column),
        percentFromFactor(factor),
      ),
    ),
  )
}
