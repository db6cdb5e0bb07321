import { addAt, banded, cholesky, solveFactored, type Banded } from '../numbers/banded'
import { sensorTrace, type SensorResponse } from './sensorTrace'
import { STEP, type TracedOpening } from './tracedOpening'
import { decaying } from './wallFilm'

/**
 * What is tried for the disturbance of the mixture, as a share of the fuel: `both` a film and an enrichment with decays of
 * their own, `amount` one that is too little or too much and decays as the film does, `decay` one of the right size that
 * decays sooner or later than the film.
 */
type FilmKind = 'both' | 'amount' | 'decay'

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
export interface FilmFit {
  kind: FilmKind
  /** s: of the film, and of the enrichment; the same where there is but one */
  tau: number
  decay: number
  /** share of the fuel missing at first, and share that an enrichment of its own puts in */
  amounts: number[]
  /** logarithm of how likely the readings are under this kind, all its parameters considered (Laplace) */
  log: number
  /** of each opening, by fine step: lambda over its base less 1, and the variance of that */
  excess: Float64Array[]
  variance: Float64Array[]
  /** lambda each settles at */
  settled: number[]
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
/** Relative step by which a derivative to a time constant is taken. */
const NUDGE = 0.02
/** Neighbouring readings are not quite apart: squares count this share. */
const CORRELATED = 0.7
/** Standard deviations beyond which a reading counts less. */
const STRAY = 3
const ROUNDS = 6
/** Largest share of the fuel that may be missing, so that lambda stays finite. */
const MOST = 0.6

/** Parameters of one opening beside the shared ones: lambda before, lambda after, drift per second. */
const OWN = 3

/** Shared parameters: amounts first, logarithms of time constants behind. */
interface Shared {
  kind: FilmKind
  amounts: number[]
  times: number[]
  /** what is known beforehand of the times */
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
  const own = traced.map(startOf)
  for (let round = 0; round < rounds; round++) {
    // The amounts settle before time constants are moved: without an amount there is nothing to tell them by.
    const { step, locals } = equations(traced, sensor, shared, own, round > 0)
    const amounts = shared.amounts.length
    for (let j = 0; j < amounts; j++) shared.amounts[j] = within(shared.amounts[j]! + step[j]!, -MOST, MOST)
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
    tau: Math.exp(times[0]!),
    decay: Math.exp(times.at(-1)!),
    amounts: shared.amounts,
    log: -(CORRELATED * cost) / 2 + volume,
    excess: traced.map((trace) => excessOf(missingOf(trace, shared))),
    variance: traced.map((trace) => varianceOf(trace, shared, factor)),
    settled: own.map((one) => one[1]!),
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
): { step: Float64Array; locals: Linearised[]; cost: number; factor: Banded; prior: number[] } {
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
    const local = linearised(trace, sensor, shared, own[p]!)
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

/** Share of the fuel that is missing by fine step, and what that would be with a little more of each parameter. */
interface Missing {
  now: Float64Array
  slopes: Float64Array[]
}

function missingOf(trace: TracedOpening, { kind, amounts, times }: Shared): Missing {
  // What is missing weighs more while little air is drawn in.
  const shareOf = (time: number): Float64Array =>
    decaying(trace.progress, Math.exp(time), STEP).map(
      (value, k) => value / (trace.filling + (1 - trace.filling) * trace.progress[k]!),
    )
  const slopeOf = (time: number, here: Float64Array, amount: number): Float64Array => {
    const there = shareOf(time + NUDGE)
    return here.map((value, k) => (amount * (there[k]! - value)) / NUDGE)
  }
  const film = shareOf(times[0]!)
  const [amount] = amounts as [number]
  if (kind === 'amount')
    return { now: film.map((value) => amount * value), slopes: [film, slopeOf(times[0]!, film, amount)] }
  const extra = shareOf(times[1]!)
  const more = kind === 'both' ? amounts[1]! : amount
  return {
    now: film.map((value, k) => amount * value - more * extra[k]!),
    slopes: [
      ...(kind === 'both' ? [film, extra.map((value) => -value)] : [film.map((value, k) => value - extra[k]!)]),
      slopeOf(times[0]!, film, amount),
      slopeOf(times[1]!, extra, -more),
    ],
  }
}

/** lambda over its base, less 1, by fine step. */
function excessOf({ now }: Missing): Float64Array {
  return now.map((missing) => 1 / (1 - within(missing, -MOST, MOST)) - 1)
}

/** Variance of the excess, to first order in the shared parameters. */
function varianceOf(trace: TracedOpening, shared: Shared, factor: Banded): Float64Array {
  const missing = missingOf(trace, shared)
  return excessOf(missing).map((excess, k) => {
    const row = Float64Array.from(missing.slopes, (slope) => slope[k]!)
    const solved = solveFactored(factor, row)
    const sum = row.reduce((total, value, j) => total + value * solved[j]!, 0)
    return (sum * (1 + excess) ** 4) / CORRELATED
  })
}

function startOf({ time, lambda }: TracedOpening): Float64Array {
  const meanOf = (some: number[]): number => some.reduce((sum, value) => sum + value, 0) / some.length
  const before = lambda.filter((_, k) => time[k]! <= 0.05)
  const late = lambda.slice(-Math.max(3, Math.floor(lambda.length / 4)))
  return Float64Array.of(meanOf(before.length ? before : lambda.slice(0, 2)), meanOf(late), 0)
}

interface Linearised {
  cost: number
  normal: number[][]
  right: number[]
  ownStep(step: Float64Array): number[]
}

/** Normal equations of the shared amounts with one opening's own parameters eliminated (Schur complement). */
function linearised(
  trace: TracedOpening,
  { delay, tau }: SensorResponse,
  shared: Shared,
  own: Float64Array,
): Linearised {
  const missing = missingOf(trace, shared)
  const { slopes } = missing
  const { progress, first, time, lambda, noise, drift } = trace
  const n = progress.length
  const last = first + (n - 1) * STEP
  const excess = excessOf(missing)
  const columns = Array.from({ length: OWN + slopes.length }, () => new Float64Array(n))
  for (let k = 0; k < n; k++) {
    const ratio = 1 + excess[k]!
    const u = progress[k]!
    const ahead = first + k * STEP - last
    const base = own[0]! * (1 - u) + u * (own[1]! + own[2]! * ahead)
    columns[0]![k] = ratio * (1 - u)
    columns[1]![k] = ratio * u
    columns[2]![k] = ratio * u * ahead
    for (let j = 0; j < slopes.length; j++) columns[OWN + j]![k] = base * ratio * ratio * slopes[j]![k]!
  }
  const shown = columns.map((column) => sensorTrace(column, tau, STEP))
  const size = OWN + slopes.length
  const full = Array.from({ length: size }, () => new Float64Array(size))
  const right = new Float64Array(size)
  let cost = (own[2]! / drift) ** 2
  const row = new Float64Array(size)
  for (let i = 0; i < time.length; i++) {
    const place = Math.min(n - 1, Math.max(0, (time[i]! - delay - first) / STEP))
    const k = Math.min(n - 2, Math.floor(place))
    const share = place - k
    for (let j = 0; j < size; j++) row[j] = shown[j]![k]! + share * (shown[j]![k + 1]! - shown[j]![k]!)
    // Before linearising the amounts: lambda as shown is linear in the opening's own parameters.
    const miss = (lambda[i]! - row[0]! * own[0]! - row[1]! * own[1]! - row[2]! * own[2]!) / noise
    const weight = Math.abs(miss) > STRAY ? STRAY / Math.abs(miss) : 1
    cost += Math.abs(miss) > STRAY ? 2 * STRAY * Math.abs(miss) - STRAY ** 2 : miss ** 2
    const scale = weight / noise ** 2
    for (let a = 0; a < size; a++) {
      right[a]! += scale * row[a]! * miss * noise
      for (let b = 0; b <= a; b++) full[a]![b]! += scale * row[a]! * row[b]!
    }
  }
  full[2]![2]! += 1 / drift ** 2
  right[2]! -= own[2]! / drift ** 2
  const at = (a: number, b: number): number => full[Math.max(a, b)]![Math.min(a, b)]!
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
