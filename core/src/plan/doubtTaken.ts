import { USUAL_SCALES } from '../field/learnScales'
import { addAt, banded, cholesky, solveFactored } from '../numbers/banded'
import { rowFinder } from '../table/lookup'
import type { LoadGrid } from '../table/table'
import type { NextRun } from './candidates'
import type { RangeField } from './nextRun'
import { placeAt, type Point } from './rangePoints'

/** What one pass through this many rpm tells: its deviation, ln of fuel, and a hold, which is averaged for longer. */
const PASS = { rpm: 250, deviation: 0.006 }
const HOLD_DEVIATION = 0.004
/** rpm that a sweep has passed before its mixture has settled. */
const RUN_UP = 600

/**
 * Doubt that a run would take away at each point: variance before less variance after, ln of fuel, worked out from the
 * posterior itself.
 */
export function doubtTaken(
  grid: LoadGrid,
  { conditioned, heldZones, pressure }: RangeField,
  points: readonly Point[],
  run: NextRun,
): number[] {
  const way = Math.sign(run.toRpm - run.fromRpm)
  const length = Math.abs(run.toRpm - run.fromRpm)
  const speeds =
    run.kind === 'hold'
      ? [run.fromRpm]
      : Array.from(
          { length: Math.max(0, Math.floor((length - RUN_UP) / PASS.rpm)) },
          (_, k) => run.fromRpm + way * (RUN_UP + (k + 0.5) * PASS.rpm),
        )
  const rowOf = rowFinder(grid)
  const seen = speeds
    .map((rpm) => placeAt(grid, rpm, grid.loadAxis === 'throttle' ? run.load : pressure(rpm, run.load)))
    .filter(
      (one) =>
        !heldZones.some((zone) => zone.row === rowOf(one.load) && one.rpm >= zone.fromRpm && one.rpm <= zone.toRpm),
    )
  if (seen.length === 0) return points.map(() => 0)
  const size = grid.rpm.length * grid.load.length
  const influence = seen.map(({ nodes, shares }) => {
    const one = new Float64Array(size)
    nodes.forEach((k, j) => (one[k]! += shares[j]!))
    return solveFactored(conditioned.factor, one)
  })
  const of = (field: Float64Array, { nodes, shares }: Point): number =>
    nodes.reduce((sum, k, j) => sum + shares[j]! * field[k]!, 0)
  const own = (run.kind === 'hold' ? HOLD_DEVIATION : PASS.deviation) ** 2
  const spread = banded(seen.length, seen.length - 1)
  seen.forEach((one, a) => {
    for (let b = 0; b <= a; b++)
      addAt(spread, a, b, of(influence[b]!, one) + USUAL_SCALES.level ** 2 + (a === b ? own : 0))
  })
  const factor = cholesky(spread)
  return points.map((point) => {
    const towards = Float64Array.from(influence, (one) => of(one, point))
    const solved = solveFactored(factor, towards)
    return towards.reduce((part, one, k) => part + one * solved[k]!, 0)
  })
}
