import { meanAcross } from '../../numbers/meanAcross'
import { median } from '../../numbers/median'
import type { RunColumns } from '../../run/run'
import { firstFrom } from '../../run/firstFrom'
import type { ThrottleOpening } from '../rollOns/openingsOf'
import type { SteadyMixture } from './steadyMixture'

/** What was read about an opening, as the film is fitted to it. Times in s after the opening began. */
export interface TracedOpening {
  opening: ThrottleOpening
  /** fine steps from `first` on, STEP apart: share of the way that the charge has made to its new filling */
  progress: Float64Array
  first: number
  /** by fine step: what the speed that the engine has then makes of its steady mixture, as a factor; 1 where it is not known */
  bySpeed: Float64Array
  /** what that may be where it is not known, by how the mixture moves elsewhere: one deviation, ln lambda */
  doubt: number
  /** filling before over filling after */
  filling: number
  /** readings: when, and lambda (mean over cylinders) */
  time: number[]
  lambda: number[]
  /** standard deviation of a reading */
  noise: number
  /** how fast the settled mixture may drift, lambda per second: with the speed of the engine */
  drift: number
  /** s between readings */
  interval: number
  /** readings stand at the sensor's end stop */
  pinned: boolean
  /** fuel was cut as it began: what follows is its return, and no matter of acceleration fuel */
  afterCut: boolean
}

/** s of the fine steps on which film and sensor are reckoned. */
export const STEP = 0.02
/** s before the opening whose gas is still on its way. */
const EARLIER = 0.7
/** Readings leaner than this before it tell of a fuel cut. */
const CUT = 1.18
/** s after the opening in which gas of before it still comes to the sensor. */
const AFTER_CUT = 0.05
/** s after it in which readings count; what comes later is another story. */
const LONGEST = 3
/** s that gas takes at the least: so long after the throttle moved again readings are still of before. */
const LEAST_LAG = 0.08
const LEAST_NOISE = 0.003
/** An engine that runs draws this share of its whole filling, at least. */
const LEAST_FILLING = 0.15
/** Filling goes about as the root of the opening, %. */
const root = (load: number): number => 1 - Math.exp(-Math.max(0, load) / 35)
/** Of a mixture that is known, or of which nothing is. */
const LEVEL = { slope: 0, bend: 0 }
/** Drift of the settled mixture that is usual: at a held speed, per second, and per 1,000 rpm that the speed moves. */
const USUAL_DRIFT = { held: 0.0015, moving: 0.02 }

/**
 * Readings about an opening; null where too few are known.
 *
 * @param steady mixture of the machine in steady running, where it is known
 */
export function traceOpening(
  run: RunColumns,
  opening: ThrottleOpening,
  steady: SteadyMixture | null = null,
): TracedOpening | null {
  const { time, throttle } = run
  const from = Math.max(opening.from, opening.at - EARLIER)
  const until = Math.min(opening.until + LEAST_LAG, opening.opened + LONGEST, time[time.length - 1]!)
  const at: number[] = []
  const lambda: number[] = []
  for (let i = firstFrom(time, from); i < time.length && time[i]! <= until; i++) {
    const value = meanAcross(run.lambda, i)
    if (!(value > 0)) continue
    at.push(time[i]! - opening.at)
    lambda.push(value)
  }
  const after = at.filter((one) => one > 0).length
  if (at.length - after < 2 || after < 4) return null
  const first = Math.floor(Math.min(at[0]!, 0) / STEP) * STEP
  const speeds = run.rpm.subarray(firstFrom(time, opening.opened), firstFrom(time, until))
  const moved = speeds.length > 1 ? Math.abs(speeds[speeds.length - 1]! - speeds[0]!) || 0 : 0
  const progress = progressOf(time, throttle!, opening, first, until - opening.at)
  const bySpeed = steady && bySpeedOf(run, opening, first, progress, steady)
  // A mixture that moves along speed elsewhere may do so here: a line is fitted with the opening, a bend is not.
  const { slope, bend } = (!bySpeed && steady) || LEVEL
  const thousands = moved / 1000
  const doubt = Math.min(slope * thousands, (bend * thousands ** 2) / 2)
  return {
    opening,
    progress,
    first,
    bySpeed: bySpeed ?? new Float64Array(progress.length).fill(1),
    doubt,
    filling: Math.max(LEAST_FILLING, Math.min(1, root(opening.fromLoad) / root(opening.toLoad))),
    time: at,
    lambda,
    noise: noiseOf(lambda),
    drift: USUAL_DRIFT.held + (Math.max(USUAL_DRIFT.moving, slope) * thousands) / Math.max(0.3, until - opening.opened),
    interval: (at.at(-1)! - at[0]!) / (at.length - 1),
    pinned: isPinned(run, at, lambda),
    afterCut: lambda.some((value, k) => at[k]! <= AFTER_CUT && value > CUT),
  }
}

/** How far the filling has come. */
function progressOf(
  time: Float32Array,
  throttle: Float32Array,
  { at, opened, fromLoad, toLoad }: ThrottleOpening,
  first: number,
  until: number,
): Float64Array {
  const [low, high] = [root(fromLoad), root(toLoad)]
  const out = new Float64Array(Math.max(2, Math.round((until - first) / STEP) + 1))
  let row = Math.max(1, firstFrom(time, at + first))
  let highest = 0
  for (let k = 0; k < out.length; k++) {
    const t = at + first + k * STEP
    while (row < time.length - 1 && time[row]! < t) row++
    const span = time[row]! - time[row - 1]!
    const share = span > 0 ? Math.min(1, Math.max(0, (t - time[row - 1]!) / span)) : 0
    const load = throttle[row - 1]! + share * (throttle[row]! - throttle[row - 1]!)
    const made =
      t <= at - 0.06 ? 0 : t >= opened + 0.05 ? 1 : Math.min(1, Math.max(0, (root(load) - low) / (high - low)))
    // A hand that opens does not shut; noise must not make the charge go back.
    if (made > highest) highest = made
    out[k] = highest
  }
  return out
}

/**
 * What the speed of the engine makes of the steady mixture: a line along speed before the opening, another after it. Null
 * where a part of it is not known.
 */
function bySpeedOf(
  { time, rpm }: RunColumns,
  { at, fromLoad, toLoad }: ThrottleOpening,
  first: number,
  progress: Float64Array,
  steady: SteadyMixture,
): Float64Array | null {
  const speedAt = (k: number): number => rpm[Math.min(rpm.length - 1, firstFrom(time, at + first + k * STEP))]!
  const before = steady.at(speedAt(0), fromLoad)
  const after = steady.at(speedAt(progress.length - 1), toLoad)
  const factors = progress.map((u, k) => {
    const speed = speedAt(k)
    const early = u < 1 ? (1 - u) * (steady.at(speed, fromLoad) - before) : 0
    const late = u > 0 ? u * (steady.at(speed, toLoad) - after) : 0
    return Math.exp(early + late)
  })
  return factors.every(Number.isFinite) ? factors : null
}

/** Standard deviation of a reading, from how much one differs from the next. */
function noiseOf(lambda: readonly number[]): number {
  const steps = lambda.slice(2).map((value, k) => Math.abs(value - 2 * lambda[k + 1]! + lambda[k]!))
  return Math.max(LEAST_NOISE, (1.4826 * median(steps)) / Math.sqrt(6))
}

/** Whether the reading rests on the leanest or richest that the run has: how far it would have gone is not known. */
function isPinned(run: RunColumns, time: readonly number[], lambda: readonly number[]): boolean {
  let [low, high] = [Infinity, -Infinity]
  for (const column of run.lambda)
    for (const value of column) {
      if (value < low) low = value
      if (value > high) high = value
    }
  const ends = lambda.filter((value, k) => time[k]! > 0 && (value === high || value === low)).length
  return ends >= 3
}
