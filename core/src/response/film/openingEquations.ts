import { addAt, banded, cholesky, solveFactored } from '../../numbers/banded'
import { excessOf, fuelMissing, type Disturbance } from './fuelMissing'
import { sensorTrace, type SensorResponse } from './sensorTrace'
import { STEP, type TracedOpening } from './tracedOpening'

/** Standard deviations beyond which a reading counts less (Huber). */
export const STRAY = 3
/** Parameters of one opening beside the shared ones: lambda before, lambda after, drift per second. */
export const OWN = 3

/** Normal equations of the shared parameters by one opening, its own parameters eliminated (Schur complement). */
export interface OpeningEquations {
  cost: number
  normal: number[][]
  right: number[]
  /** step of its own parameters for a step of the shared ones */
  ownStep(step: Float64Array): number[]
}

/** Where the own parameters of an opening are begun. */
export function ownStart({ time, lambda }: TracedOpening): Float64Array {
  const meanOf = (some: number[]): number => some.reduce((sum, value) => sum + value, 0) / some.length
  const before = lambda.filter((_, k) => time[k]! <= 0.05)
  const late = lambda.slice(-Math.max(3, Math.floor(lambda.length / 4)))
  return Float64Array.of(meanOf(before.length ? before : lambda.slice(0, 2)), meanOf(late), 0)
}

/** Place of an element in the lower half of a symmetric matrix. */
const placeOf = (row: number, column: number): number => (row * (row + 1)) / 2 + column

/** What one opening's readings say of the shared parameters, at where they stand. */
export function openingEquations(
  trace: TracedOpening,
  { delay, tau }: SensorResponse,
  shared: Disturbance,
  own: Float64Array,
): OpeningEquations {
  const missing = fuelMissing(trace, shared)
  const { slopes } = missing
  const { progress, bySpeed, first, time, lambda, noise, drift } = trace
  const n = progress.length
  const last = first + (n - 1) * STEP
  const excess = excessOf(missing)
  const size = OWN + slopes.length
  // Step by step, the parameters side by side: this is the inner loop of every fit.
  const arriving = new Float64Array(n * size)
  for (let k = 0; k < n; k++) {
    const ratio = 1 + excess[k]!
    const whole = bySpeed[k]! * ratio
    const u = progress[k]!
    const ahead = first + k * STEP - last
    const base = own[0]! * (1 - u) + u * (own[1]! + own[2]! * ahead)
    const step = k * size
    arriving[step] = whole * (1 - u)
    arriving[step + 1] = whole * u
    arriving[step + 2] = whole * u * ahead
    for (let j = 0; j < slopes.length; j++) arriving[step + OWN + j] = base * whole * ratio * slopes[j]![k]!
  }
  const shown = sensorTrace(arriving, tau, STEP, size)
  // Lower half, row after row.
  const half = new Float64Array((size * (size + 1)) / 2)
  const right = new Float64Array(size)
  let cost = (own[2]! / drift) ** 2
  const row = new Float64Array(size)
  const perStep = 1 / STEP
  const precision = 1 / noise ** 2
  for (let i = 0; i < time.length; i++) {
    const place = Math.min(n - 1, Math.max(0, (time[i]! - delay - first) * perStep))
    const k = Math.min(n - 2, Math.floor(place))
    const share = place - k
    for (let j = 0, at = k * size; j < size; j++, at++) row[j] = shown[at]! + share * (shown[at + size]! - shown[at]!)
    // Before linearising the amounts: lambda as shown is linear in the opening's own parameters.
    const miss = (lambda[i]! - row[0]! * own[0]! - row[1]! * own[1]! - row[2]! * own[2]!) / noise
    const weight = Math.abs(miss) > STRAY ? STRAY / Math.abs(miss) : 1
    cost += Math.abs(miss) > STRAY ? 2 * STRAY * Math.abs(miss) - STRAY ** 2 : miss ** 2
    const scale = weight * precision
    for (let a = 0, to = 0; a < size; a++) {
      const scaled = scale * row[a]!
      right[a]! += scaled * miss * noise
      for (let b = 0; b <= a; b++, to++) half[to]! += scaled * row[b]!
    }
  }
  half[placeOf(2, 2)]! += 1 / drift ** 2
  right[2]! -= own[2]! / drift ** 2
  const at = (a: number, b: number): number => half[placeOf(Math.max(a, b), Math.min(a, b))]!
  const ownMatrix = banded(OWN, OWN - 1)
  for (let a = 0; a < OWN; a++) for (let b = 0; b <= a; b++) addAt(ownMatrix, a, b, at(a, b) + (a === b ? 1e-6 : 0))
  const factor = cholesky(ownMatrix)
  const solved = (of: (a: number) => number): Float64Array =>
    solveFactored(
      factor,
      Float64Array.from({ length: OWN }, (_, a) => of(a)),
    )
  const mine = solved((a) => right[a]!)
  const across = slopes.map((_, j) => solved((a) => at(OWN + j, a)))
  const dot = (j: number, other: Float64Array): number =>
    other.reduce((sum, value, a) => sum + at(OWN + j, a) * value, 0)
  return {
    cost,
    normal: slopes.map((_, j) => slopes.map((_, k) => at(OWN + j, OWN + k) - dot(j, across[k]!))),
    right: slopes.map((_, j) => right[OWN + j]! - dot(j, mine)),
    ownStep: (step) =>
      Array.from(mine, (value, a) => across.reduce((left, one, j) => left - one[a]! * step[j]!, value)),
  }
}
