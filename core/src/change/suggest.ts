import type { Field } from '../field/field'
import { factorFromPercent, percentFromFactor } from '../fuel/mixture'
import { beside, type Place } from '../table/beside'
import { extendCells } from '../table/extend'
import { build, sameGrid, valueLimits, type Grid, type Matrix, type SparseMatrix, type Table } from '../table/table'
import { applyFactor } from './applyFactor'
import { limited, onward, shrunk, takenBack, type ArithmeticStep, type ChangeReason, type Sum } from './arithmetic'
import { equalAbove } from './equalAbove'
import { DEFAULT_LIMITS, type ChangeLimits } from './limits'
import { needAt, servedCylinder, usualNeed, type Need } from './need'
import type { TableSince } from './sinceMeasured'
import { taperChanges } from './taper'

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

/**
 * Suggested change of a fuel table from the field of one cylinder, or of the cylinder that needs the most fuel where the
 * table serves several: a shared table must not leave the leanest one lean.
 *
 * Order: estimate, less what was changed since the runs were made, shrunk where the interval is wide, limited for this
 * pass; untouched in held zones, where the engine misfires or does not answer to fuel, without evidence and where the interval is too wide, but for what is
 * taken back of corrections made on a loop's mixture, and for a taper that leaves no cliff at the border of what is known.
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
  const told = build(table, (row, column) => ownStep(needs, [row, column], limits, table.load[row]!))
  const own = limits.equal ? equalAbove(table, needs, told, limits) : told
  const filled = limits.fill ? fillNeeds(table, needs, own) : null
  const tapered = taperChanges(
    own.map((cells, row) => cells.map((one, column) => one?.change ?? filled?.[row]![column] ?? null)),
    needs.map((cells) => cells.map(({ state }) => LEFT_ALONE.has(state))),
    limits.edge,
  )
  const sums = build(table, (row, column): Sum | null => {
    const direct = own[row]![column]!
    if (direct) return direct
    const { state, undo } = needs[row]![column]!
    if (undo !== null && state !== 'misfire') return takenBack(undo, limits, table.load[row]!)
    const [fill, taper] = [filled?.[row]![column] ?? null, tapered[row]![column] ?? null]
    const along = fill !== null ? onward('filled', fill) : taper !== null ? onward('taper', taper) : null
    return along && limited(along, limits, table.load[row]!)
  })
  const nodes = build(table, (row, column) =>
    suggestNode(table, [row, column], needs[row]![column]!, sums[row]![column]!, {
      ...limits,
      isWorthIt: isWorthIt(sums, [row, column], limits.least),
    }),
  )
  return {
    cylinder,
    nodes,
    values: build(table, (row, column) => nodes[row]![column]!.after),
    predicted: build(table, (row, column) => predictNode(needs[row]![column]!, nodes[row]![column]!.changePct)),
  }
}

/** Cells that fuel does not help: nothing is tapered into them. */
const LEFT_ALONE: ReadonlySet<Need['state']> = new Set(['held', 'misfire', 'silent'])

/** Changes of the cells beyond all readings, %; null where there is nothing to go on from, or a loop holds. */
function fillNeeds(grid: Grid, needs: Need[][], own: (Sum | null)[][]): SparseMatrix {
  const known = needs.map((cells, row) => cells.map(({ left }, column) => (own[row]![column] ? left : null)))
  const { values, filled } = extendCells(grid, known)
  return build(grid, (row, column) =>
    filled[row]![column] && needs[row]![column]!.state === 'unknown' ? values[row]![column]! : null,
  )
}

/** The change that a cell's own estimate asks for, limited; null where there is none, or none to go by. */
function ownStep(needs: Need[][], at: Place, limits: ChangeLimits, load: number): Sum | null {
  const need = needs[at[0]]![at[1]]!
  // Under load a need for fuel that is told beyond doubt is met, however widely its size is known: nothing halves it there.
  const isLean = load >= limits.highLoad && need.left - need.half > 0
  const isTold = need.state === 'known' && (need.half <= limits.widest || isLean) && (limits.bridge || !need.isBridged)
  const usual = usualNeed(needs, at)
  return isTold ? limited(shrunk(need, isLean ? Math.max(usual, need.left) : usual), limits, load) : null
}

/** Share of the least change below which a cell is left alone whatever its neighbours do. */
const TINY = 1 / 4

/** A change too small to matter is left out where all beside it are, too; beside one that is made it would leave a bend. */
function isWorthIt(sums: readonly (readonly (Sum | null)[])[], at: Place, least: number): boolean {
  const size = ([r, c]: Place): number => Math.abs(sums[r]?.[c]?.change ?? 0)
  return size(at) >= (beside(at).some((one) => size(one) >= least) ? TINY * least : least)
}

function suggestNode(
  table: Table,
  [row, column]: Place,
  need: Need,
  sum: Sum | null,
  limits: Pick<ChangeLimits, 'widest'> & { isWorthIt: boolean },
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
  if (need.state === 'held' && !(sum && limits.isWorthIt)) return stay('held by closed loop')
  if (need.state === 'misfire') return stay('misfire, no fuel')
  if (need.state === 'silent' && !(sum && limits.isWorthIt)) return stay('does not answer')
  if (!sum) return stay(need.state === 'known' && need.half > limits.widest ? 'interval too wide' : 'no evidence')
  if (!limits.isWorthIt) return stay('too small to matter', sum.steps)
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

function predictNode({ state, lambda, moved }: Need, changePct: number): number | null {
  // In a held zone the loop takes the change back, and what did not answer will not: the reading stays where it is.
  return lambda === null || state === 'held' || state === 'silent'
    ? lambda
    : lambda / (moved * factorFromPercent(changePct))
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
