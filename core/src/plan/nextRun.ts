import { banded, cholesky } from '../numbers/banded'
import { diagonal, logDeterminant, selectedInverse } from '../numbers/selectedInverse'
import { condition, type Conditioned } from '../field/conditioned'
import { FieldError } from '../field/field'
import type { HeldZone } from '../field/heldZones'
import { USUAL_SCALES } from '../field/learnScales'
import { priorPrecision } from '../field/prior'
import type { LoadGrid } from '../table/table'
import { candidates, timesMade, type MadeRun, type NextRun } from './candidates'
import type { Pace } from './choice'
import { doubtTaken } from './doubtTaken'
import { helpfulRun, type HelpfulRun } from './helpfulRun'
import { pressureOfStop } from './pressureOfStop'
import { pointsOf, type Point } from './rangePoints'

/** Part of a table that is to ride well, and how well: error in % of fuel. */
export interface Wanted {
  rpm: readonly [from: number, to: number]
  load: readonly [from: number, to: number]
  /** RMS and worst over the range */
  typicalPct: number
  worstPct: number
}

/** What is known of the range: by node what would be left after the change suggested now (ln of fuel), and how it hangs together. */
export interface RangeField {
  left: Float64Array
  /** deviation of each node with everything that is doubted, ln of fuel */
  deviation: Float64Array
  conditioned: Conditioned
  heldZones: readonly HeldZone[]
  /** kPa behind the plate at rpm and a throttle stop, for tables by pressure */
  pressure: (rpm: number, stop: number) => number
  /** runs there are, as they would be asked for */
  made: readonly MadeRun[]
}

export interface NextAnswer {
  enough: boolean
  /** expected over points of the range after the change suggested now: RMS, and worst */
  typicalPct: number
  worstPct: number
  next: NextRun | null
  why: string
  /** the most helpful runs, best first; none where it is enough */
  ranked: HelpfulRun[]
}

/** Worst: what is left and this many deviations. */
const WORST_DEVIATIONS = 2.5
/** Runs that are named at the most. */
const MOST = 5
/** Share of the points that the next run is chosen by, once only the worst are not good enough. */
const WORST_SHARE = 0.05

/** Nothing known yet: the usual prior alone. */
export function unknownField(grid: LoadGrid): RangeField {
  const precision = priorPrecision(grid, USUAL_SCALES)
  const size = precision.size
  const conditioned = condition(
    { normal: banded(size, precision.width), right: new Float64Array(size), square: 0, weight: 0, stretches: [] },
    { precision, logDeterminant: logDeterminant(cholesky(precision)) },
    { reading: 1, level: 1 },
  )
  const deviation = diagonal(selectedInverse(conditioned.factor)).map(Math.sqrt)
  return { left: new Float64Array(size), deviation, conditioned, heldZones: [], pressure: pressureOfStop([]), made: [] }
}

/**
 * What to run next, so that the range rides well in the fewest minutes: of all sweeps (up and down) and holds the one that
 * takes most doubt away per minute, worked out from the posterior itself; none when what is expected lies within what is
 * wanted.
 *
 * @param known of the cylinder that is known least
 * @throws FieldError when the table does not reach into the range
 * @see Krause, Singh and Guestrin (2008), near-optimal sensor placements in Gaussian processes, for choosing by the variance that is taken away
 */
export function nextRun(grid: LoadGrid, known: RangeField, wanted: Wanted, pace: Pace): NextAnswer {
  const points = pointsOf(grid, wanted, known.heldZones)
  if (points.length === 0 && known.heldZones.length === 0)
    throw new FieldError('The table does not reach into this range.', 'rpm')
  if (points.length === 0)
    return {
      enough: true,
      typicalPct: 0,
      worstPct: 0,
      next: null,
      why: 'Nothing of this range is free: a closed loop holds it.',
      ranked: [],
    }
  const covariance = selectedInverse(known.conditioned.factor)
  const at = (k: number, other: number): number => {
    const [high, low] = [Math.max(k, other), Math.min(k, other)]
    return covariance.data[high * (covariance.width + 1) + covariance.width - (high - low)]!
  }
  let [square, worst] = [0, 0]
  let where = points[0]!
  const doubts: { point: Point; doubt: number }[] = []
  for (const point of points) {
    const left = point.nodes.reduce((sum, k, j) => sum + point.shares[j]! * known.left[k]!, 0)
    // What readings share, such as a lag, is doubted beyond what hangs together by the field alone.
    const shared = point.nodes.reduce((sum, k, j) => sum + point.shares[j]! * (known.deviation[k]! ** 2 - at(k, k)), 0)
    const own = point.nodes.reduce(
      (sum, k, j) => sum + point.nodes.reduce((part, n, m) => part + point.shares[j]! * point.shares[m]! * at(k, n), 0),
      0,
    )
    const variance = own + Math.max(0, shared)
    square += left * left + variance
    const here = Math.abs(left) + WORST_DEVIATIONS * Math.sqrt(variance)
    doubts.push({ point, doubt: here })
    if (here > worst) [worst, where] = [here, point]
  }
  const [typicalPct, worstPct] = [100 * Math.sqrt(square / points.length), 100 * worst]
  const enough = typicalPct <= wanted.typicalPct && worstPct <= wanted.worstPct
  const said = `Expected after the change: typically ${typicalPct.toFixed(1)} %, at worst ${worstPct.toFixed(1)} %, near ${Math.round(where.rpm / 100) * 100} rpm and ${Math.round(where.load)} ${grid.loadAxis === 'throttle' ? '%' : 'kPa'}.`
  if (enough)
    return { enough, typicalPct, worstPct, next: null, why: `${said} That is within what is wanted.`, ranked: [] }
  const looked =
    typicalPct > wanted.typicalPct
      ? points
      : doubts
          .sort((a, b) => b.doubt - a.doubt)
          .slice(0, Math.max(4, Math.ceil(WORST_SHARE * doubts.length)))
          .map((one) => one.point)
  const ranked = candidates(grid, wanted, pace)
    .map((run) => {
      const taken = doubtTaken(grid, known, looked, run).reduce((sum, one) => sum + one, 0)
      return { run, gain: taken / (run.minutes * (1 + timesMade(known.made, run))) }
    })
    .sort((a, b) => b.gain - a.gain)
  return {
    enough,
    typicalPct,
    worstPct,
    next: ranked[0]!.run,
    why: `${said} Of all runs this one takes most doubt away per minute.`,
    ranked: ranked.slice(0, MOST).map(({ run }) => helpfulRun(grid, known, wanted, run)),
  }
}
