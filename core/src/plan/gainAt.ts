import { DEFAULT_LIMITS } from '../change/limits'
import type { LoadGrid } from '../table/table'
import type { NextRun } from './candidates'
import { doubtAt } from './doubtAt'
import { doubtTaken } from './doubtTaken'
import { valueAt, worstAt } from './expectedAt'
import { NINETY } from '../numbers/ninety'
import type { RangeField } from './rangeField'
import type { Point } from './rangePoints'

/** Share of what is left at a point that no change takes away: all of it where the interval is too wide for one. */
const untoldOf = (variance: number): number =>
  Math.min(1, ((100 * NINETY) / DEFAULT_LIMITS.widest) ** 2 * Math.max(0, variance))

/**
 * What a run would improve at one point. Two things count. The doubt of the point falls by every run there is. The error that
 * is known there can be corrected only as far as the runs on the present tables know the point: they alone make the change.
 *
 * @param worst how far off the worst points may be, ln of fuel, once only they are not good enough: then only what lies beyond
 * counts. Null before that: then the mean square counts
 */
export function gainAt(
  grid: LoadGrid,
  known: RangeField,
  points: readonly Point[],
  doubts: readonly number[],
  worst: number | null,
): (run: NextRun) => number {
  const now = points.map((point, k) => ({ point, left: valueAt(known.left, point), doubt: doubts[k]! }))
  const looked = worst === null ? now : now.filter(({ left, doubt }) => worstAt(left, doubt) > worst)
  const some = looked.map((one) => one.point)
  const toldNow = doubtAt(known.present, some)
  const isFirstPass = known.present.conditioned === known.conditioned
  const cost = (left: number, doubt: number): number =>
    worst === null ? left ** 2 + doubt : Math.max(worst, worstAt(left, doubt))
  return (run) => {
    const taken = doubtTaken(grid, known, some, run)
    const told = isFirstPass ? taken : doubtTaken(grid, { ...known, ...known.present }, some, run)
    return looked.reduce((sum, { left, doubt }, k) => {
      const before = untoldOf(toldNow[k]!)
      const untold = before > 0 ? untoldOf(toldNow[k]! - told[k]!) / before : 0
      return sum + cost(left, doubt) - cost(left * untold, Math.max(0, doubt - taken[k]!))
    }, 0)
  }
}
