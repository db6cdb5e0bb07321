import { banded, cholesky, solveFactored, addAt } from '../numbers/banded'
import { diagonal, logDeterminant, selectedInverse } from '../numbers/selectedInverse'
import { condition, type Conditioned } from '../field/conditioned'
import { FieldError } from '../field/field'
import type { HeldZone } from '../field/heldZones'
import { USUAL_SCALES } from '../field/learnScales'
import { priorPrecision } from '../field/prior'
import { rowFinder } from '../table/lookup'
import type { LoadGrid } from '../table/table'
import type { Pace } from './choice'
import { runMinutes } from './makePlan'
import { pressureOfStop } from './pressureOfStop'
import { reachOf } from './reach'

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
  made: readonly Pick<NextRun, 'kind' | 'load' | 'fromRpm' | 'toRpm'>[]
}

/** A run that takes most doubt away per minute. `fromRpm` above `toRpm` is a sweep down; equal is a hold. */
interface NextRun {
  kind: 'sweep' | 'hold'
  /** throttle stop, % of plate */
  load: number
  fromRpm: number
  toRpm: number
  minutes: number
}

export interface NextAnswer {
  enough: boolean
  /** expected over points of the range after the change suggested now: RMS, and worst */
  typicalPct: number
  worstPct: number
  next: NextRun | null
  why: string
}

/** Points of the range along each side of a cell. */
const LATTICE = 3
/** Worst: what is left and this many deviations. */
const WORST_DEVIATIONS = 2.5
/** Openings from which an engine is not braked down through its speeds: brake, tyre and engine get too hot (common practice). */
const NO_DOWN_SWEEP = 50
/** What one pass through this many rpm tells: its deviation, ln of fuel, and a hold, which is averaged for longer. */
const PASS = { rpm: 250, deviation: 0.006 }
const HOLD_DEVIATION = 0.004
/** rpm that a sweep has passed before its mixture has settled. */
const RUN_UP = 600
/** Rows below this throttle are idle and overrun. */
const IDLE = 3
/** Openings between which the reach grows to the whole of the range. */
const SHORT_STOPS = [5, 10, 20]
/** Share of the points that the next run is chosen by, once only the worst are not good enough. */
const WORST_SHARE = 0.05
const STOPS = [5, 10, 15, 20, 30, 40, 60, 80, 100]

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
  if (enough) return { enough, typicalPct, worstPct, next: null, why: `${said} That is within what is wanted.` }
  const looked =
    typicalPct > wanted.typicalPct
      ? points
      : doubts
          .sort((a, b) => b.doubt - a.doubt)
          .slice(0, Math.max(4, Math.ceil(WORST_SHARE * doubts.length)))
          .map((one) => one.point)
  const best = candidates(grid, wanted, pace)
    .map((run) => ({ run, gain: gainOf(grid, known, looked, run) / (run.minutes * (1 + timesMade(known.made, run))) }))
    .reduce((most, one) => (one.gain > most.gain ? one : most))
  return {
    enough,
    typicalPct,
    worstPct,
    next: best.run,
    why: `${said} Of all runs this one takes most doubt away per minute.`,
  }
}

interface Point {
  rpm: number
  load: number
  nodes: number[]
  shares: number[]
}

/** A place on the grid as nodes and shares, held at its ends. */
function placeAt(grid: LoadGrid, rpm: number, load: number): Point {
  const cell = (axis: readonly number[], value: number): [k: number, share: number] => {
    const k = Math.max(
      0,
      Math.min(
        axis.length - 2,
        axis.findLastIndex((one) => one <= value),
      ),
    )
    return [k, Math.min(1, Math.max(0, (value - axis[k]!) / (axis[k + 1]! - axis[k]!)))]
  }
  const [column, u] = cell(grid.rpm, rpm)
  const [row, v] = cell(grid.load, load)
  const rows = grid.load.length
  const k = column * rows + row
  return {
    rpm,
    load,
    nodes: [k, k + 1, k + rows, k + rows + 1],
    shares: [(1 - u) * (1 - v), (1 - u) * v, u * (1 - v), u * v],
  }
}

/** Points evenly over the cells of a range, but for what a closed loop holds and what an engine does not reach. */
function pointsOf(grid: LoadGrid, { rpm, load }: Wanted, zones: readonly HeldZone[]): Point[] {
  const rowOf = rowFinder(grid)
  const axis = (points: readonly number[], [from, to]: readonly [number, number]): number[] =>
    points
      .slice(1)
      .flatMap((end, k) =>
        Array.from({ length: LATTICE }, (_, n) => points[k]! + ((n + 0.5) / LATTICE) * (end - points[k]!)),
      )
      .filter((one) => one >= from && one <= to)
  const span = { fromRpm: rpm[0], toRpm: rpm[1] }
  return axis(grid.rpm, rpm).flatMap((r) =>
    axis(grid.load, load)
      .filter((l) => grid.loadAxis === 'manifold' || r <= reachAt(l, span))
      .filter((l) => !zones.some((zone) => zone.row === rowOf(l) && r >= zone.fromRpm && r <= zone.toRpm))
      .map((l) => placeAt(grid, r, l)),
  )
}

/** Reach of any opening: straight between small ones, which do not rev out, and those that do. */
function reachAt(load: number, span: { fromRpm: number; toRpm: number }): number {
  const above = SHORT_STOPS.findIndex((stop) => stop >= load)
  if (above < 0) return span.toRpm
  if (above === 0) return reachOf(load, span)
  const [low, high] = [SHORT_STOPS[above - 1]!, SHORT_STOPS[above]!]
  const share = (load - low) / (high - low)
  return reachOf(low, span) + share * (reachOf(high, span) - reachOf(low, span))
}

/** Sweeps up and down at every stop of the range, and holds over it. */
function candidates(grid: LoadGrid, { rpm, load }: Wanted, pace: Pace): NextRun[] {
  const span = { fromRpm: rpm[0], toRpm: rpm[1] }
  const stops = (
    grid.loadAxis === 'throttle' ? grid.load.filter((one) => one >= load[0] && one <= load[1]) : STOPS
  ).filter((one) => one >= IDLE)
  const minutes = (kind: 'sweep' | 'hold', stop: number): number => {
    const { run, pause } = runMinutes(kind, stop, pace)
    return run + pause
  }
  return (stops.length ? stops : [load[1]]).flatMap((stop) => {
    const top = Math.max(span.fromRpm + PASS.rpm, reachOf(stop, span))
    const run = (kind: NextRun['kind'], fromRpm: number, toRpm: number): NextRun => ({
      kind,
      load: stop,
      fromRpm: Math.round(fromRpm),
      toRpm: Math.round(toRpm),
      minutes: minutes(kind, stop),
    })
    const holds = [0.03, 0.2, 0.4, 0.6, 0.8, 0.97].map((share) => span.fromRpm + share * (top - span.fromRpm))
    return [
      run('sweep', span.fromRpm, top),
      ...(stop < NO_DOWN_SWEEP ? [run('sweep', top, span.fromRpm)] : []),
      ...holds.map((one) => run('hold', one, one)),
    ]
  })
}

/** Stops and speeds that count as the same. */
const SAME = { load: 3, rpm: 400 }

/** How often a run like it was made: one that told less than was hoped is not asked for over and over. */
function timesMade(made: RangeField['made'], run: NextRun): number {
  return made.filter(
    (one) =>
      one.kind === run.kind &&
      Math.abs(one.load - run.load) <= SAME.load &&
      Math.sign(one.toRpm - one.fromRpm) === Math.sign(run.toRpm - run.fromRpm) &&
      (run.kind === 'sweep' || Math.abs(one.fromRpm - run.fromRpm) <= SAME.rpm),
  ).length
}

/** Doubt that a run takes away, summed over the points: variance before less variance after. */
function gainOf(
  grid: LoadGrid,
  { conditioned, heldZones, pressure }: RangeField,
  points: readonly Point[],
  run: NextRun,
): number {
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
  if (seen.length === 0) return 0
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
  return points.reduce((sum, point) => {
    const towards = Float64Array.from(influence, (one) => of(one, point))
    const solved = solveFactored(factor, towards)
    return sum + towards.reduce((part, one, k) => part + one * solved[k]!, 0)
  }, 0)
}
