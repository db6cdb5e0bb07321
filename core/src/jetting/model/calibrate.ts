import { refused } from '../../refusal/refusal'
import { addAt, banded, cholesky, solveFactored } from '../../numbers/banded'
import type { Body, Box, Fitted } from '../carburettor'
import {
  CIRCUITS,
  hasCircuit,
  passages,
  strength,
  UNTOUCHED,
  type Circuit,
  type Coefficients,
  type Passages,
} from './model'
import { NINETY } from '../../numbers/ninety'

/** Mixture read at one opening. */
export interface OpeningReading {
  /** share of full throttle, 0 to 1 */
  opening: number
  lambda: number
  /** standard error of ln lambda */
  error: number
}

/** What was read with something fitted. */
export interface MeasuredFitting {
  fitted: Fitted
  readings: readonly OpeningReading[]
}

/** The model as the readings bend it. */
export interface Calibration {
  coefficients: Coefficients
  /** ln of what the model leaves over, at these openings, straight between them */
  openings: readonly number[]
  rest: readonly number[]
  /** covariance of the circuits' coefficients and then of the rest */
  covariance: readonly (readonly number[])[]
  circuits: readonly Circuit[]
  body: Body
  box: Box
  /** ln that a prediction may be off beyond what the readings tell: checks left open */
  doubt: number
}

/** How far a circuit's discharge may be from the model's before anything is measured, ln; a rig's own spread is some 0.2. */
const PRIOR: Record<Circuit, number> = { pilot: 0.4, cutaway: 0.4, needle: 0.25, main: 0.25 }
/** How far what is left over wanders over a tenth of the throttle, ln, and how far from its level at all. */
const WANDER = 0.06
const LEVEL = 0.15
/** The least error of a reading, ln: gauge and driver repeat no better. */
const LEAST_ERROR = 0.006
/** The same between and beyond readings, where the line through them is taken: the rest is smooth. */
const BETWEEN = 0.02
/** Residual in errors beyond which a reading counts less (Huber). */
const HUBER = 1.8
const ROUNDS = 12
const STEP = 1e-4

/** Weights of the two neighbours of an opening among the nodes. */
function between(nodes: readonly number[], opening: number): [number, number, number] {
  const next = nodes.findIndex((node) => node >= opening)
  if (next <= 0) {
    const at = next < 0 ? nodes.length - 1 : 0
    return [at, at, 0]
  }
  return [next - 1, next, (opening - nodes[next - 1]!) / (nodes[next]! - nodes[next - 1]!)]
}

/** d ln strength by each circuit's coefficient. */
function slopes(p: Passages, c: Coefficients, circuits: readonly Circuit[]): number[] {
  const base = Math.log(strength(p, c))
  return circuits.map((circuit) => (Math.log(strength(p, { ...c, [circuit]: c[circuit] + STEP })) - base) / STEP)
}

/**
 * Bends the model to what was read: discharge of each circuit, and a smooth rest over the openings, by Gauss-Newton with
 * Huber weights and priors that say how far each may be. With one fitting the rest takes up most of it; two fittings tell
 * the circuits apart.
 *
 * @param doubt ln to add to what predictions may be off
 * @throws Refusal 'no-jetting' without readings
 */
export function calibrateJetting(body: Body, box: Box, measured: readonly MeasuredFitting[], doubt = 0): Calibration {
  const readings = measured.flatMap(({ fitted, readings }) => readings.map((one) => ({ ...one, fitted })))
  if (readings.length === 0)
    throw refused('no-jetting', 'There are no readings yet. Measure at several openings first.', 'readings')
  if (readings.some((one) => !(one.lambda > 0.4 && one.lambda < 2) || !(one.opening >= 0 && one.opening <= 1.1)))
    throw refused('no-jetting', 'A reading lies outside lambda 0.4 to 2 or outside the throttle.', 'readings')
  const circuits = CIRCUITS.filter((circuit) => hasCircuit(body, circuit))
  const openings = [...new Set(readings.map((one) => Math.round(one.opening * 100) / 100))].sort((a, b) => a - b)
  const size = circuits.length + openings.length
  const at = readings.map((one) => ({
    ...one,
    p: passages(body, box, one.fitted, one.opening),
    y: -Math.log(one.lambda),
    near: between(openings, one.opening),
  }))
  if (at.some(({ p }) => !(strength(p, UNTOUCHED) > 0)))
    throw refused(
      'no-jetting',
      'What is fitted lets no fuel through at one of the openings. Check jets and diameters.',
      'fitted',
    )
  const coefficients: Coefficients = { ...UNTOUCHED }
  // The level of the rest is free: it takes up units, fuel and all that is common to the openings.
  const level = at.reduce((sum, one) => sum + one.y - Math.log(strength(one.p, coefficients)), 0) / at.length
  const rest = openings.map(() => level)
  let factored = banded(size, size - 1)
  for (let round = 0; round < ROUNDS; round++) {
    const normal = banded(size, size - 1)
    const right = new Float64Array(size)
    const add = (row: readonly [number, number][], wanted: number, weight: number): void => {
      for (const [i, a] of row) {
        right[i]! += weight * a * wanted
        for (const [j, b] of row) if (j <= i) addAt(normal, i, j, weight * a * b)
      }
    }
    for (const {
      p,
      y,
      near: [low, high, share],
      error,
    } of at) {
      const now = Math.log(strength(p, coefficients)) + rest[low]! * (1 - share) + rest[high]! * share
      const sigma = Math.max(LEAST_ERROR, error)
      const off = Math.abs(y - now) / sigma
      const weight = (round > 0 && off > HUBER ? HUBER / off : 1) / sigma ** 2
      const row: [number, number][] = slopes(p, coefficients, circuits).map((slope, k) => [k, slope])
      row.push([circuits.length + low, 1 - share])
      if (high !== low) row.push([circuits.length + high, share])
      add(row, y - now, weight)
    }
    circuits.forEach((circuit, k) => add([[k, 1]], -coefficients[circuit], 1 / PRIOR[circuit] ** 2))
    const mean = rest.reduce((sum, one) => sum + one, 0) / rest.length
    rest.forEach((one, j) => add([[circuits.length + j, 1]], mean - one, 1 / (LEVEL ** 2 * 4)))
    for (let j = 1; j < rest.length; j++) {
      const apart = Math.max(0.01, openings[j]! - openings[j - 1]!)
      const sigma = WANDER * Math.sqrt(apart / 0.1)
      add(
        [
          [circuits.length + j, 1],
          [circuits.length + j - 1, -1],
        ],
        rest[j - 1]! - rest[j]!,
        1 / sigma ** 2,
      )
    }
    factored = cholesky(normal)
    const step = solveFactored(factored, right)
    circuits.forEach((circuit, k) => {
      coefficients[circuit] = Math.min(1.5, Math.max(-1.5, coefficients[circuit] + step[k]!))
    })
    rest.forEach((_, j) => (rest[j]! += step[circuits.length + j]!))
  }
  const covariance = Array.from({ length: size }, (_, k) => [
    ...solveFactored(
      factored,
      Float64Array.from({ length: size }, (_, j) => (j === k ? 1 : 0)),
    ),
  ])
  return { coefficients, openings, rest, covariance, circuits, body, box, doubt }
}

/** A predicted mixture with its 90 % interval. */
export interface Predicted {
  opening: number
  lambda: number
  low: number
  high: number
}

/** Share of the throttle beyond the readings that still counts as read. */
const READ_MARGIN = 0.005
/** What the model itself gets wrong between fittings, ln. */
const MODEL_ERROR = 0.008

/** How far an opening is from being read: a bridge between two readings, the way from the last one beyond them. */
function unread(openings: readonly number[], opening: number): number {
  const next = openings.findIndex((node) => node >= opening)
  const below = openings[next < 0 ? openings.length - 1 : next - 1]
  const above = openings[next]
  if (below === undefined || above === undefined) return Math.abs(opening - (below ?? above!))
  return ((opening - below) * (above - opening)) / (above - below)
}

/** Openings within what was read, and a little beyond, where predictions can be judged. */
export function isRead({ openings }: Calibration, opening: number): boolean {
  return opening >= openings[0]! - READ_MARGIN && opening <= openings.at(-1)! + READ_MARGIN
}

/** ln of what the calibration adds to the model at an opening. */
export function restAt({ openings, rest }: Calibration, opening: number): number {
  const [low, high, share] = between(openings, opening)
  return rest[low]! * (1 - share) + rest[high]! * share
}

/**
 * Mixture to expect with something fitted. Beyond the readings the interval widens.
 *
 * @param at openings of the throttle, 0 to 1
 * @returns for each opening lambda with its 90 % interval
 */
export function predictJetting(calibration: Calibration, fitted: Fitted, at: readonly number[]): Predicted[] {
  const { body, box, coefficients, circuits, openings, covariance } = calibration
  return at.map((opening) => {
    const p = passages(body, box, fitted, opening)
    const value = Math.log(strength(p, coefficients)) + restAt(calibration, opening)
    const [low, high, share] = between(openings, opening)
    const gradient = new Float64Array(circuits.length + openings.length)
    slopes(p, coefficients, circuits).forEach((slope, k) => (gradient[k] = slope))
    gradient[circuits.length + low]! += 1 - share
    gradient[circuits.length + high]! += share
    let variance = MODEL_ERROR ** 2 + calibration.doubt ** 2
    gradient.forEach((a, i) => gradient.forEach((b, j) => (variance += a * b * covariance[i]![j]!)))
    variance += BETWEEN ** 2 * (unread(openings, opening) / 0.1)
    const half = NINETY * Math.sqrt(variance)
    return { opening, lambda: Math.exp(-value), low: Math.exp(-value - half), high: Math.exp(-value + half) }
  })
}

/** Openings that are one, share of the whole way. */
const SAME_OPENING = 0.02

/**
 * How well a prediction came true, % RMS of lambda over the openings that were both predicted and read.
 *
 * @returns null when they have none in common
 */
export function cameTrue(predicted: readonly Predicted[], readings: readonly OpeningReading[]): number | null {
  const offs = readings.flatMap((reading) => {
    const distance = (one: Predicted): number => Math.abs(one.opening - reading.opening)
    const near = predicted.reduce<Predicted | null>(
      (best, one) => (best === null || distance(one) < distance(best) ? one : best),
      null,
    )
    return near && distance(near) < SAME_OPENING ? [Math.log(reading.lambda / near.lambda)] : []
  })
  return offs.length ? 100 * Math.sqrt(offs.reduce((sum, one) => sum + one * one, 0) / offs.length) : null
}
