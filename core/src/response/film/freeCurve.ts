import { addAt, banded, cholesky, solveFactored, type Banded } from '../../numbers/banded'
import { logDeterminant } from '../../numbers/selectedInverse'
import { CORRELATED } from './fitFilm'
import { OWN, ownStart, STRAY } from './openingEquations'
import { sensorTrace, type SensorResponse } from './sensorTrace'
import { STEP, type TracedOpening } from './tracedOpening'

/** What the mixture did after openings of one kind where no film is supposed: a smooth curve that begins with the opening and ends settled. */
export interface FreeFit {
  /** the curve at its knots */
  knots: Float64Array
  /** lambda over its base less 1 by fine step of the longest opening, and its variance */
  excess: Float64Array
  variance: Float64Array
  /** logarithm of how likely the readings are, as of a film */
  log: number
  /** lambda each opening settles at */
  settled: number[]
}

/** s after the opening at which the curve has a value of its own; straight between them. */
const KNOTS = [0.06, 0.12, 0.18, 0.24, 0.3, 0.38, 0.46, 0.56, 0.68, 0.82, 1, 1.2, 1.45, 1.75, 2.1, 2.5, 3]
/** s over which it hangs together, in which it begins, and in which it is usually gone. */
const SMOOTH = 0.25
const BEGINS = 0.1
const GONE = 1
/** What is known of a curve beforehand. */
export interface FreeStart {
  /** how far it usually goes, share of lambda; about a curve that others like it had, how far from that */
  size: number
  about?: Float64Array
  /** how usual it is, beside one film of a kind */
  weight: number
}
/** A curve of a usual size, half as usual as a film. */
export const FREE: FreeStart = { size: 0.07, weight: 0.5 }
const ROUNDS = 2

/**
 * Precision of the knots' values for a size of one: a Gaussian process with a Matern kernel (3/2), let in by the opening and
 * dying away.
 *
 * @see Rasmussen and Williams (2006), ch. 4
 */
const UNIT = precisionOfKnots()

function precisionOfKnots(): { precision: number[][]; logDeterminant: number } {
  const size = KNOTS.length
  const envelope = (t: number): number => Math.min(1, t / BEGINS) * Math.exp(-t / GONE)
  const kernel = (s: number, t: number): number => {
    const apart = (Math.sqrt(3) * Math.abs(s - t)) / SMOOTH
    return envelope(s) * envelope(t) * ((1 + apart) * Math.exp(-apart) + (s === t ? 1e-4 : 0))
  }
  const covariance = banded(size, size - 1)
  for (let a = 0; a < size; a++) for (let b = 0; b <= a; b++) addAt(covariance, a, b, kernel(KNOTS[a]!, KNOTS[b]!))
  const factor = cholesky(covariance)
  const precision = KNOTS.map((_, j) =>
    Array.from(
      solveFactored(
        factor,
        Float64Array.from(KNOTS, (_one, k) => (k === j ? 1 : 0)),
      ),
    ),
  )
  return { precision, logDeterminant: -logDeterminant(factor) }
}

/** Where a fit stands: the curve at its knots, and lambda before, lambda after and drift of each opening. */
interface Standing {
  curve: Float64Array
  own: Float64Array[]
}

/**
 * Fits a free curve to openings of one kind together, each with its own mixture before and after. Lambda is the product of
 * both, so it is linearised about where it stands; strays count less (Huber).
 *
 * @param size how far the curve usually goes, share of lambda
 */
export function fitFree(
  traced: readonly TracedOpening[],
  sensor: SensorResponse,
  { size, about = new Float64Array(KNOTS.length) }: Pick<FreeStart, 'size' | 'about'>,
): FreeFit {
  const m = KNOTS.length
  const pulled = (curve: Float64Array): number[] =>
    UNIT.precision.map((row) => row.reduce((sum, value, b) => sum + (value * curve[b]!) / size ** 2, 0))
  const pull = pulled(about)
  const total = m + OWN * traced.length
  const now: Standing = { curve: about.slice(), own: traced.map(ownStart) }
  let normal = banded(total, total - 1)
  let [factor, cost] = [normal, 0]
  for (let round = 0; round < ROUNDS; round++) {
    normal = banded(total, total - 1)
    const right = new Float64Array(total)
    pull.forEach((value, k) => (right[k] = value / CORRELATED))
    cost = 0
    for (let a = 0; a < m; a++)
      for (let b = 0; b <= a; b++) addAt(normal, a, b, UNIT.precision[a]![b]! / size ** 2 / CORRELATED)
    for (const [p, trace] of traced.entries()) cost += addOpening(trace, sensor, now, p, normal, right)
    factor = cholesky(normal)
    const solved = solveFactored(factor, right)
    now.curve.set(solved.subarray(0, m))
    now.own.forEach((one, p) => one.set(solved.subarray(m + OWN * p, m + OWN * (p + 1))))
  }
  const off = now.curve.map((value, k) => value - about[k]!)
  const strange = pulled(off).reduce((sum, value, k) => sum + value * off[k]!, 0)
  // Over each opening's own mixture nothing is averaged, as with films: their blocks are taken out again.
  const owns = traced.map((_, p) => logDeterminant(cholesky(blockOf(normal, m + OWN * p))))
  const volume =
    UNIT.logDeterminant -
    2 * m * Math.log(size) -
    m * Math.log(CORRELATED) -
    logDeterminant(factor) +
    owns.reduce((sum, one) => sum + one, 0)
  const longest = traced.reduce((most, one) => (one.progress.length > most.progress.length ? one : most))
  return {
    knots: now.curve,
    ...overSteps(longest, now.curve, factor),
    log: (volume - CORRELATED * cost - strange) / 2,
    settled: now.own.map((one) => one[1]!),
  }
}

/** Adds one opening's readings to the normal equations; its cost where the fit stands. */
function addOpening(
  trace: TracedOpening,
  { delay, tau }: SensorResponse,
  { curve, own }: Standing,
  p: number,
  normal: Banded,
  right: Float64Array,
): number {
  const { progress, bySpeed, first, time, lambda, noise, drift } = trace
  const n = progress.length
  const last = first + (n - 1) * STEP
  const mine = own[p]!
  const m = KNOTS.length
  // Its own three, the knots, and what the product of both counts twice.
  const width = OWN + m + 1
  const arriving = new Float64Array(n * width)
  for (let k = 0; k < n; k++) {
    const t = first + k * STEP
    const [u, ahead, at] = [progress[k]!, t - last, k * width]
    const shares = sharesAt(t)
    const excess = shares.reduce((sum, one) => sum + one.share * curve[one.knot]!, 0)
    const base = bySpeed[k]! * (mine[0]! * (1 - u) + u * (mine[1]! + mine[2]! * ahead))
    const whole = bySpeed[k]! * (1 + excess)
    arriving[at] = whole * (1 - u)
    arriving[at + 1] = whole * u
    arriving[at + 2] = whole * u * ahead
    for (const { knot, share } of shares) arriving[at + OWN + knot] = base * share
    arriving[at + width - 1] = base * excess
  }
  const shown = sensorTrace(arriving, tau, STEP, width)
  const count = OWN + m
  // Lower half, row after row.
  const half = new Float64Array((count * (count + 1)) / 2)
  const told = new Float64Array(count)
  const row = new Float64Array(width)
  let cost = (mine[2]! / drift) ** 2
  for (let i = 0; i < time.length; i++) {
    const step = Math.min(n - 1, Math.max(0, (time[i]! - delay - first) / STEP))
    const k = Math.min(n - 2, Math.floor(step))
    const share = step - k
    for (let j = 0, at = k * width; j < width; j++, at++)
      row[j] = shown[at]! + share * (shown[at + width]! - shown[at]!)
    const miss = (lambda[i]! - row[0]! * mine[0]! - row[1]! * mine[1]! - row[2]! * mine[2]!) / noise
    const off = Math.abs(miss)
    const weight = off > STRAY ? STRAY / off : 1
    cost += off > STRAY ? 2 * STRAY * off - STRAY ** 2 : off ** 2
    const scale = weight / noise ** 2
    const wanted = lambda[i]! + row[width - 1]!
    for (let a = 0, to = 0; a < count; a++) {
      const scaled = scale * row[a]!
      told[a]! += scaled * wanted
      for (let b = 0; b <= a; b++, to++) half[to]! += scaled * row[b]!
    }
  }
  const place = (j: number): number => (j < OWN ? m + OWN * p + j : j - OWN)
  for (let a = 0, to = 0; a < count; a++) {
    right[place(a)]! += told[a]!
    for (let b = 0; b <= a; b++, to++)
      addAt(normal, Math.max(place(a), place(b)), Math.min(place(a), place(b)), half[to]!)
  }
  const at = m + OWN * p
  for (let j = 0; j < OWN; j++) addAt(normal, at + j, at + j, 1e-6 + (j === 2 ? 1 / drift ** 2 : 0))
  return cost
}

/** Own block of an opening. */
function blockOf(normal: Banded, at: number): Banded {
  const block = banded(OWN, OWN - 1)
  const stride = normal.width + 1
  for (let a = 0; a < OWN; a++)
    for (let b = 0; b <= a; b++) addAt(block, a, b, normal.data[(at + a) * stride + normal.width - (a - b)]!)
  return block
}

/** The curve and its variance by fine step of an opening. */
function overSteps({ progress, first }: TracedOpening, curve: Float64Array, factor: Banded) {
  const m = curve.length
  const covariance = Array.from({ length: m }, (_, j) =>
    solveFactored(
      factor,
      Float64Array.from({ length: factor.size }, (_one, k) => (k === j ? 1 : 0)),
    ),
  )
  const excess = progress.map((_, k) => valueAt(curve, first + k * STEP))
  const variance = progress.map((_, k) => {
    const shares = sharesAt(first + k * STEP)
    return (
      shares.reduce(
        (sum, one) =>
          sum + shares.reduce((part, other) => part + one.share * other.share * covariance[one.knot]![other.knot]!, 0),
        0,
      ) / CORRELATED
    )
  })
  return { excess, variance }
}

/** The knots about a time and their shares; none before the opening, the last one's value dies away behind it. */
function sharesAt(t: number): { knot: number; share: number }[] {
  if (t <= 0) return []
  const last = KNOTS.length - 1
  if (t >= KNOTS[last]!) return [{ knot: last, share: 1 }]
  const knot = KNOTS.findIndex((one) => one >= t)
  const before = knot ? KNOTS[knot - 1]! : 0
  const share = (t - before) / (KNOTS[knot]! - before)
  return knot
    ? [
        { knot: knot - 1, share: 1 - share },
        { knot, share },
      ]
    : [{ knot, share }]
}

const valueAt = (curve: Float64Array, t: number): number =>
  sharesAt(t).reduce((sum, { knot, share }) => sum + share * curve[knot]!, 0)
