import { meanAcross } from '../numbers/meanAcross'
import { heldStretches } from '../numbers/heldStretches'
import { mean } from '../numbers/mean'
import type { RunColumns } from '../run/run'
import { studentFactor } from '../numbers/studentT'
import { KNOCK_LEVEL, knocksWithin } from './knock'
import { byPlace, type Place } from './place'
import { changeBetween, fitParabola, isBentDown, peakOf, valueAt, type Parabola } from '../numbers/parabola'

/** Torque at one mixture, at a held point. */
export interface MixturePoint {
  /** mean over cylinders */
  lambda: number
  /** N·m */
  torque: number
  knock: boolean
}

/** Mixtures tried at one throttle stop and engine speed. */
export interface MixtureBin {
  /** % of plate */
  stop: number
  rpm: number
  points: MixturePoint[]
}

export const MIXTURE_VERDICTS = ['best torque', 'flat', 'try richer', 'try leaner', 'too few mixtures'] as const

/** Torque over mixture at a point, fitted. */
export interface MixtureFit {
  verdict: (typeof MIXTURE_VERDICTS)[number]
  note: string
  /** lambda of best torque with its 90 % interval */
  best: { lambda: number; low: number; high: number; torque: number } | null
  curve: Parabola | null
  /** leanest mixture at which knock was seen; null for none */
  knockFrom: number | null
  range: { from: number; to: number }
}

const HELD = { rpm: 150, throttle: 2.5 }
/** s over which the gauge is averaged, and that a mixture must last; s that gauge and torque take to follow. */
const SMOOTH = 0.4
const LASTS = 1
const FOLLOWS = 1.2
/** lambda within which a mixture is held, and by which a run must move to be a sweep of it. */
const SAME = 0.02
const MOVES = 0.04
const LEAST_MIXTURES = 3
const CONFIDENCE = 0.9

/** Torque by mixture out of runs in which fuel was stepped while stop and speed were held. Runs need throttle, torque and a mixture. */
export function mixtureBins(runs: readonly RunColumns[], knockLevel = KNOCK_LEVEL): MixtureBin[] {
  const held = runs.flatMap((run) => {
    if (!run.throttle || !run.torque || run.lambda.length === 0) return []
    const points = heldMixtures(run, knockLevel).filter((one) => one.stop > 0 && one.torque > 0)
    // Stepped is asked place by place: from one speed to another the table moves the mixture by itself.
    return byPlace(points).flatMap(({ points: here }) => {
      const lambdas = here.map((one) => one.lambda)
      return Math.max(...lambdas) - Math.min(...lambdas) >= MOVES ? here : []
    })
  })
  return byPlace(held)
    .map(({ place, points }) => ({
      ...place,
      points: points.map(({ lambda, torque, knock }) => ({ lambda, torque, knock })),
    }))
    .sort((a, b) => a.stop - b.stop || a.rpm - b.rpm)
}

function heldMixtures(run: RunColumns, knockLevel: number): (MixturePoint & Place)[] {
  const { time, rpm, throttle, torque, knock } = run
  const mixture = smoothed(time, meanLambda(run))
  return heldStretches(time.length, [
    { values: rpm, within: HELD.rpm },
    { values: throttle!, within: HELD.throttle },
    { values: mixture, within: SAME },
  ]).flatMap(({ from, to }) => {
    let start = from
    while (start < to && time[start]! - time[from]! < FOLLOWS) start++
    if (start >= to || time[to - 1]! - time[start]! < LASTS) return []
    return {
      stop: mean(throttle!, start, to),
      rpm: mean(rpm, start, to),
      lambda: mean(mixture, start, to),
      torque: mean(torque!, start, to),
      knock: knocksWithin(knock, start, to, knockLevel),
    }
  })
}

function meanLambda({ lambda, time }: RunColumns): Float32Array {
  return Float32Array.from(time, (_, i) => meanAcross(lambda, i))
}

/** Mean of the readings of the last while, NaN ones passed over. */
function smoothed(time: Float32Array, column: Float32Array): Float32Array {
  let [from, sum, count] = [0, 0, 0]
  return Float32Array.from(column, (value, i) => {
    if (value === value) [sum, count] = [sum + value, count + 1]
    for (; time[i]! - time[from]! > SMOOTH; from++)
      if (column[from] === column[from]) [sum, count] = [sum - column[from]!, count - 1]
    return count ? sum / count : NaN
  })
}

/**
 * Fits torque over mixture by a concave parabola, as torque over advance: best torque lies a little rich of stoichiometric
 * and is flat there (Heywood ch. 15, from memory).
 *
 * @param points lambda and torque in N·m, three and more
 */
export function fitMixture(points: readonly MixturePoint[]): MixtureFit {
  const known = points.filter(({ lambda, torque }) => Number.isFinite(lambda) && torque > 0)
  const lambdas = known.map((one) => one.lambda).sort((a, b) => a - b)
  const [from = NaN, to = NaN] = [lambdas[0], lambdas.at(-1)]
  const distinct = lambdas.filter((value, k) => k === 0 || value - lambdas[k - 1]! > SAME / 2).length
  const knocking = known.filter((one) => one.knock).map((one) => one.lambda)
  const base = { knockFrom: knocking.length ? Math.min(...knocking) : null, range: { from, to } }
  const outcome = (verdict: MixtureFit['verdict'], note: string, fit: Partial<MixtureFit> = {}): MixtureFit => ({
    verdict,
    note,
    best: null,
    curve: null,
    ...base,
    ...fit,
  })
  if (distinct < LEAST_MIXTURES || known.length < LEAST_MIXTURES + 1)
    return outcome(
      'too few mixtures',
      `Measure at ${LEAST_MIXTURES} mixtures at least, one of them twice; five from rich to lean tell enough.`,
    )
  const curve = fitParabola(known.map(({ lambda, torque }) => ({ x: lambda, y: torque })))
  const t = studentFactor(CONFIDENCE, curve.df)
  const rises = changeBetween(curve, from, to, t)
  const step = (to - from) / (distinct - 1)
  if (!isBentDown(curve)) {
    if (rises.low > 0)
      return outcome('try leaner', 'Torque still rises toward lean. Go on in small steps only.', { curve })
    if (rises.high < 0) return outcome('try richer', 'Torque still rises toward rich: try a richer mixture.', { curve })
    return outcome('flat', 'Torque hardly cares about the mixture here: choose the safer one.', { curve })
  }
  const { at, error } = peakOf(curve)
  const best = { lambda: at, low: at - t * error, high: at + t * error, torque: valueAt(curve, at) }
  if (at > to + step) return outcome('try leaner', 'The best lies leaner than what was tried.', { curve, best })
  if (at < from - step) return outcome('try richer', 'The best lies richer than what was tried.', { curve, best })
  return outcome('best torque', 'Torque is flat about its best: a richer mixture than that costs little.', {
    curve,
    best,
  })
}

/**
 * Torque lost by a mixture against the best, %, with its 90 % interval; null where there is no best, or the mixture lies
 * outside what was tried (a step beyond is let pass).
 */
export function lossAt(
  { curve, best, range }: MixtureFit,
  lambda: number,
): { value: number; low: number; high: number } | null {
  if (!curve || !best) return null
  const slack = (range.to - range.from) / 4
  if (lambda < range.from - slack || lambda > range.to + slack) return null
  const { value, low, high } = changeBetween(curve, best.lambda, lambda, studentFactor(CONFIDENCE, curve.df))
  const percent = (x: number): number => Math.min(0, (100 * x) / best.torque)
  return { value: percent(value), low: percent(low), high: percent(high) }
}
