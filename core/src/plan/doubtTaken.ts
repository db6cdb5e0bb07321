import { USUAL_SCALES } from '../field/solve/learnScales'
import { addAt, backward, banded, cholesky, forwardAll, type Banded } from '../numbers/banded'
import { dot } from '../numbers/dot'
import { rowFinder } from '../table/lookup'
import type { LoadGrid } from '../table/table'
import type { NextRun } from './candidates'
import { valueAt } from './expectedAt'
import type { RangeField } from './rangeField'
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
  const influence = influences(conditioned.factor, seen)
  const own = (run.kind === 'hold' ? HOLD_DEVIATION : PASS.deviation) ** 2
  const spread = banded(seen.length, seen.length - 1)
  seen.forEach((one, a) => {
    for (let b = 0; b <= a; b++)
      addAt(spread, a, b, valueAt(influence[b]!, one) + USUAL_SCALES.level ** 2 + (a === b ? own : 0))
  })
  const towards = points.map((point) => {
    const one = new Float64Array(influence.length)
    for (let k = 0; k < one.length; k++) one[k] = valueAt(influence[k]!, point)
    return one
  })
  // Half a solve: its square is what the whole of it would come to.
  return forwardAll(cholesky(spread), towards).map((one) => dot(one, one))
}

/** What a reading at each place would move, by node: the posterior's covariance with it. */
function influences(factor: Banded, seen: readonly Point[]): Float64Array[] {
  const units = seen.map(({ nodes, shares }) => {
    const one = new Float64Array(factor.size)
    nodes.forEach((k, j) => (one[k]! += shares[j]!))
    return one
  })
  const first = seen.map(({ nodes }) => Math.min(...nodes))
  return forwardAll(factor, units, first).map((one) => backward(factor, one))
}
