import { addAt, banded, cholesky, solveFactored, type Banded } from '../../numbers/banded'
import { excessOf, fuelMissing, MOST_MISSING, type Disturbance, type FilmKind } from './fuelMissing'
import { openingEquations, ownStart, type OpeningEquations } from './openingEquations'
import type { SensorResponse } from './sensorTrace'
import type { TracedOpening } from './tracedOpening'

/** Where a fit begins: time constants in s, of the film and of the enrichment. */
export interface FilmStart {
  kind: FilmKind
  tau: number
  decay: number
  /** how far from there, in logarithms, and how likely beside other kinds, where openings like it tell; else what is usual */
  spread?: number
  weight?: number
}

/** A disturbance fitted to openings at one sensor response. */
export interface FilmFit extends Disturbance {
  /** s: of the film, and of the enrichment; the same where there is but one */
  tau: number
  decay: number
  /** logarithm of how likely the readings are under this kind, all its parameters considered (Laplace) */
  log: number
  /** lambda each opening settles at */
  settled: number[]
  /** factor of the precision of amounts and times */
  factor: Banded
}

/** Where fits begin, by kind. */
export const STARTS: readonly FilmStart[] = [
  { kind: 'amount', tau: 0.15, decay: 0.15 },
  { kind: 'amount', tau: 0.5, decay: 0.5 },
  { kind: 'decay', tau: 0.5, decay: 0.15 },
  { kind: 'both', tau: 0.5, decay: 0.15 },
]
/** Share of the fuel that film and enrichment usually hold: a weak wish for small ones. */
const USUAL_AMOUNT = 0.3
/** Time constant that is usual, s, and how far others lie from it, in logarithms. */
const USUAL_TIME = { middle: Math.log(0.3), spread: 0.7 }
/** Shortest and longest that is fitted, s. */
const LEAST_TIME = 0.04
const MOST_TIME = 2
/** Furthest that a round may move a logarithm. */
const STRIDE = 0.6
/** Neighbouring readings are not quite apart: squares count this share. */
export const CORRELATED = 0.7
const ROUNDS = 6
/** Parameters that openings share, and what is known beforehand of the times. */
interface Shared extends Disturbance {
  usual: { middle: number; spread: number }[]
}

/**
 * Fits a disturbance to openings of one kind together: each has its own mixture before and after, and they share film and
 * enrichment. Gauss-Newton on lambda at the sensor; strays count less (Huber).
 *
 * @see Huber, Robust Statistics (1981), 7.8
 */
export function fitFilm(
  traced: readonly TracedOpening[],
  sensor: SensorResponse,
  { kind, tau, decay, spread }: FilmStart,
  rounds = ROUNDS,
): FilmFit {
  const times = (kind === 'amount' ? [tau] : [tau, decay]).map(Math.log)
  const usual = times.map((middle) => (spread ? { middle, spread } : USUAL_TIME))
  const shared: Shared = { kind, amounts: kind === 'both' ? [0, 0] : [0], times, usual }
  const own = traced.map(ownStart)
  for (let round = 0; round < rounds; round++) {
    // The amounts settle before time constants are moved: without an amount there is nothing to tell them by.
    const { step, locals } = equations(traced, sensor, shared, own, round > 0)
    const amounts = shared.amounts.length
    for (let j = 0; j < amounts; j++)
      shared.amounts[j] = within(shared.amounts[j]! + step[j]!, -MOST_MISSING, MOST_MISSING)
    for (let j = 0; round > 0 && j < times.length; j++)
      shared.times[j] = within(
        shared.times[j]! + within(step[amounts + j]!, -STRIDE, STRIDE),
        Math.log(LEAST_TIME),
        Math.log(MOST_TIME),
      )
    locals.forEach(({ ownStep }, p) => ownStep(step).forEach((value, j) => (own[p]![j]! += value)))
  }
  const { cost, factor, prior } = equations(traced, sensor, shared, own, true)
  const size = shared.amounts.length + shared.times.length
  let volume = 0
  for (let j = 0; j < size; j++) volume += Math.log(Math.sqrt(prior[j]!)) - Math.log(factor.data[j * size + size - 1]!)
  return {
    kind,
    amounts: shared.amounts,
    times,
    tau: Math.exp(times[0]!),
    decay: Math.exp(times.at(-1)!),
    log: -(CORRELATED * cost) / 2 + volume,
    settled: own.map((one) => one[1]!),
    factor,
  }
}

const within = (value: number, least: number, most: number): number => Math.min(most, Math.max(least, value))

/** Normal equations of the shared parameters at where a fit stands. */
function equations(
  traced: readonly TracedOpening[],
  sensor: SensorResponse,
  shared: Shared,
  own: readonly Float64Array[],
  withTimes: boolean,
): { step: Float64Array; locals: OpeningEquations[]; cost: number; factor: Banded; prior: number[] } {
  const wishes = [
    ...shared.amounts.map((value) => ({ off: value, precision: 1 / USUAL_AMOUNT ** 2 })),
    ...shared.times.map((value, j) => ({
      off: value - shared.usual[j]!.middle,
      precision: 1 / shared.usual[j]!.spread ** 2,
    })),
  ]
  const size = wishes.length
  const normal = banded(size, size - 1)
  const right = Float64Array.from(wishes, ({ off, precision }) => -off * precision)
  let cost = wishes.reduce((sum, { off, precision }) => sum + off ** 2 * precision, 0)
  wishes.forEach(({ precision }, j) =>
    addAt(normal, j, j, precision / CORRELATED + (withTimes || j < shared.amounts.length ? 0 : 1e9)),
  )
  const locals = traced.map((trace, p) => {
    const local = openingEquations(trace, sensor, shared, own[p]!)
    cost += local.cost
    for (let j = 0; j < size; j++) {
      right[j]! += local.right[j]!
      for (let k = 0; k <= j; k++) addAt(normal, j, k, local.normal[j]![k]!)
    }
    return local
  })
  const factor = cholesky(normal)
  return { step: solveFactored(factor, right), locals, cost, factor, prior: wishes.map((one) => one.precision) }
}

/** lambda over its base less 1 by fine step of an opening that a fit was made on, and the variance of that, to first order. */
export function fittedExcess(trace: TracedOpening, fit: FilmFit): { excess: Float64Array; variance: Float64Array } {
  const missing = fuelMissing(trace, fit)
  const excess = excessOf(missing)
  const { slopes } = missing
  const covariance = slopes.map((_, j) => solveFactored(fit.factor, unit(slopes.length, j)))
  const variance = new Float64Array(excess.length)
  for (let k = 0; k < variance.length; k++) {
    let sum = 0
    for (let i = 0; i < slopes.length; i++)
      for (let j = 0; j < slopes.length; j++) sum += slopes[i]![k]! * covariance[i]![j]! * slopes[j]![k]!
    variance[k] = (sum * (1 + excess[k]!) ** 4) / CORRELATED
  }
  return { excess, variance }
}

function unit(size: number, at: number): Float64Array {
  const one = new Float64Array(size)
  one[at] = 1
  return one
}
