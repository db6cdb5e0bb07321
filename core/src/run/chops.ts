import { meanAcross } from '../numbers/meanAcross'
import { HALF_MEAN, runningMean } from '../numbers/runningMean'
import { CLOSED_MARGIN, closedLimit } from './closedLimit'
import type { RunColumns } from './run'

/** One throttle chop that cut the fuel: how long the reading took to follow. */
export interface Chop {
  run: string
  /** s, when the plate shut */
  at: number
  /** s until the reading had made 63.2 % of its way */
  lag: number
  /** The way of the reading: s after the chop, share of the step seen (0 before, 1 on the plateau). */
  response: { time: number[]; share: number[] }
  /** The plateau is the sensor's end stop, so the true step is larger than what is seen. */
  pinned: boolean
}

const LONGEST_LAG = 1.2
const LEAST_RISE = 0.12
const SIXTY_THREE = 1 - Math.exp(-1)

/** Measures the way of the reading at every throttle chop: the plate shuts above idle, fuel is cut at once, and the reading goes lean one lag later. */
export function findChops(run: RunColumns): Chop[] {
  const { time, rpm } = run
  if (!run.throttle || run.lambda.length === 0) return []
  const opening = runningMean(time, run.throttle)
  const lambda = meanColumn(run.lambda)
  const limit = closedLimit(opening)
  const chops: Chop[] = []
  for (let i = 1; i < time.length; i++) {
    if (!(opening[i]! <= limit && opening[i - 1]! > limit && rpm[i]! > 1500)) continue
    const open = openBefore(time, opening, i)
    if (!(open > limit + 1.5)) continue
    const drop = opening[i - 1]! - opening[i]!
    const crossed = time[i - 1]! + ((opening[i - 1]! - limit) / drop) * (time[i]! - time[i - 1]!)
    // The mean crosses late, its window then holding this share of the time before; half of that lateness is taken
    // back, because a hand takes some hundredths of a second to shut the plate.
    const share = Math.min(1, CLOSED_MARGIN / (open - limit + CLOSED_MARGIN))
    const quick = crossed - 0.5 * HALF_MEAN * (1 - 2 * share)
    // A hand that shuts it slowly passes the limit long before it is shut, and fuel is not cut before.
    const at = Math.max(quick, shutAt(time, opening, i) - HALF_MEAN)
    const rise = riseAfter(time, lambda, opening, i, at, limit)
    if (rise) chops.push({ run: run.id, at, ...rise })
  }
  return chops
}

/** % above the lowest opening that follows at which the plate counts as shut, and s in which it is. */
const SHUT = 0.6
const SHUTS_WITHIN = 1

/** s at which a plate that passed the limit at sample i has come to rest. */
function shutAt(time: Float32Array, opening: Float32Array, i: number): number {
  let lowest = Infinity
  for (let k = i; k < time.length && time[k]! < time[i]! + SHUTS_WITHIN; k++) lowest = Math.min(lowest, opening[k]!)
  let k = i
  while (opening[k]! > lowest + SHUT) k++
  if (k === i) return time[i]!
  const share = (opening[k - 1]! - lowest - SHUT) / (opening[k - 1]! - opening[k]!)
  return time[k - 1]! + share * (time[k]! - time[k - 1]!)
}

/** Highest opening shortly before: a chop falls from well above the stop, a wobble at the stop does not. */
function openBefore(time: Float32Array, opening: Float32Array, i: number): number {
  let open = -Infinity
  for (let k = i - 1; k >= 0 && time[k]! > time[i]! - 0.6; k--) if (opening[k]! > open) open = opening[k]!
  return open
}

function riseAfter(
  time: Float32Array,
  lambda: Float32Array,
  throttle: Float32Array,
  i: number,
  at: number,
  limit: number,
): Omit<Chop, 'run' | 'at'> | null {
  let sum = 0
  let count = 0
  for (let k = i; k >= 0 && time[k]! > at - 0.25; k--) {
    if (time[k]! <= at && lambda[k]! > 0) {
      sum += lambda[k]!
      count++
    }
  }
  if (count === 0) return null
  const before = sum / count
  let top = -Infinity
  let end = i
  for (; end < time.length && time[end]! < at + LONGEST_LAG && throttle[end]! <= limit; end++)
    if (lambda[end]! > top) top = lambda[end]!
  if (!(top - before > LEAST_RISE)) return null
  // The plateau is the mean of what stays near the top, so that a noisy peak does not set the level.
  let plateau = 0
  let kept = 0
  for (let k = i; k < end; k++) {
    if (lambda[k]! > before + 0.8 * (top - before)) {
      plateau += lambda[k]!
      kept++
    }
  }
  plateau /= kept
  const response: Chop['response'] = { time: [], share: [] }
  let lag: number | null = null
  let atTop = 0
  for (let k = i - 1; k < end; k++) {
    const share = (lambda[k]! - before) / (plateau - before)
    if (Number.isNaN(share)) continue
    if (lambda[k] === top) atTop++
    if (lag === null && share >= SIXTY_THREE) {
      const last = response.share.at(-1) ?? 0
      const from = response.time.at(-1) ?? 0
      lag = Math.max(0, from + ((SIXTY_THREE - last) / (share - last)) * (time[k]! - at - from))
    }
    response.time.push(time[k]! - at)
    response.share.push(share)
  }
  return lag === null ? null : { lag, response, pinned: atTop >= 3 }
}

/**
 * Overshoots tried for a pinned plateau: true step over step seen. Larger ones trade against the time constant so freely
 * that noise would choose; stopping here is early by a fraction of one time constant.
 */
const OVERSHOOTS = [1, 1.2, 1.4]
const TIME_CONSTANTS = [0.002, 0.01, 0.02, 0.03, 0.04, 0.05, 0.06, 0.07, 0.085, 0.1, 0.12, 0.15, 0.2]

/**
 * Delay and time constant behind several chops: least squares of `min(1, A (1 - exp(-(t - d) / tau)))` through all their
 * responses, with A above 1 only where the plateau is the sensor's end stop.
 *
 * @returns seconds; their sum is the lag with which a first-order sensor follows a ramp
 */
export function fitResponse(chops: readonly Chop[]): { delay: number; timeConstant: number } {
  const overshoots = chops.some((chop) => chop.pinned) ? OVERSHOOTS : [1]
  const longest = Math.max(...chops.map((chop) => chop.lag)) + 0.15
  const points = pooled(chops, longest)
  let best = { delay: 0, timeConstant: 0, error: Infinity }
  for (const a of overshoots) {
    for (const tau of TIME_CONSTANTS) {
      for (let delay = 0; delay < longest; delay += 0.005) {
        let error = 0
        for (const { t, share, count } of points) {
          const model = t <= delay ? 0 : Math.min(1, a * (1 - Math.exp((delay - t) / tau)))
          error += count * (share - model) ** 2
          if (error > best.error) break
        }
        if (error < best.error) best = { delay, timeConstant: tau, error }
      }
    }
  }
  return { delay: best.delay, timeConstant: best.timeConstant }
}

/** Responses of all chops as one curve: means by bin of BIN seconds, up to the longest time. */
const BIN = 0.004
function pooled(chops: readonly Chop[], longest: number): { t: number; share: number; count: number }[] {
  const bins = new Map<number, { t: number; share: number; count: number }>()
  for (const { response } of chops) {
    response.time.forEach((t, k) => {
      if (!(t >= 0 && t <= longest)) return
      const bin = Math.floor(t / BIN)
      const sum = bins.get(bin) ?? { t: 0, share: 0, count: 0 }
      sum.t += t
      sum.share += Math.min(1, response.share[k]!)
      sum.count++
      bins.set(bin, sum)
    })
  }
  return [...bins.values()].map(({ t, share, count }) => ({ t: t / count, share: share / count, count }))
}

/** Mean over cylinders, sample by sample. */
function meanColumn(lambda: readonly Float32Array[]): Float32Array {
  if (lambda.length === 1) return lambda[0]!
  return lambda[0]!.map((_, i) => meanAcross(lambda, i))
}
