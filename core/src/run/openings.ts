import { median } from '../numbers/median'
import { closedLimit } from './closedLimit'
import { mostTelling } from './mostTelling'
import type { RunColumns } from './run'

/** One opening of the throttle that the reading followed with a spike: how long it took. */
export interface Opening {
  run: string
  /** s, when the plate began to move */
  at: number
  /** s until the reading had made 63.2 % of its way to the peak */
  lag: number
  /** rpm x % once it is open */
  flow: number
}

/** Least opening, %, and s in which it is made. */
const LEAST_OPENING = 6
const QUICK = 0.25
/** Rise over the sample before, %: the level before it may be a tenth of the opening off. */
const LEAST_SEEN_RISE = 0.8 * LEAST_OPENING
/** s before it in which plate and reading must lie still. */
const STILL = 0.3
/** s before it in which the plate must not have come down: the lean reading of a cut that ended may still be on its way. */
const NOT_SHUT_SINCE = 1
/** s after it in which the peak is looked for, and in which the reading has settled. */
const PEAK_WITHIN = 0.9
const SETTLED: readonly [from: number, to: number] = [1.1, 1.6]
/** A spike stands out from both levels by at least this share of lambda. */
const LEAST_SPIKE = 0.06
const SIXTY_THREE = 1 - Math.exp(-1)
/** Readings leaner than this come of a fuel cut, not of a level to start from. */
const CUT_LAMBDA = 1.18

/**
 * Finds quick openings of the throttle whose air outruns the fuel: the reading spikes lean (or rich, where the pump gives
 * too much) one lag later. Unlike a chop it does not wait for a controller to cut fuel.
 */
export function findOpenings(run: RunColumns): Opening[] {
  const { time, throttle } = run
  const lambda = mostTelling(run.lambda)
  if (!throttle || !lambda) return []
  const limit = closedLimit(throttle)
  const openings: Opening[] = []
  let end = 0
  for (let i = 1; i < time.length; i++) {
    while (end + 1 < time.length && (end < i || time[end + 1]! <= time[i]! + QUICK)) end++
    // Most samples stand where nothing rises, and need no closer look.
    let highest = -Infinity
    for (let k = Math.max(i, end - 2); k <= end; k++) if (throttle[k]! > highest) highest = throttle[k]!
    if (!(highest - throttle[i - 1]! > LEAST_SEEN_RISE)) continue
    const before = span(time, i, -STILL, 0)
    const after = span(time, i, 0, QUICK)
    if (before.length < 3 || after.length < 2) continue
    const shut = median(before.map((k) => throttle[k]!))
    const open = median(after.slice(-3).map((k) => throttle[k]!))
    const rise = open - shut
    if (!(rise > LEAST_OPENING) || before.some((k) => Math.abs(throttle[k]! - shut) > 0.1 * rise)) continue
    if (span(time, i, -NOT_SHUT_SINCE, 0).some((k) => throttle[k]! > shut + 0.1 * rise)) continue
    // The plate moves between this sample and the next.
    const level = shut + 0.1 * rise
    if (!(throttle[i]! > level && throttle[i - 1]! <= level)) continue
    const share = (level - throttle[i - 1]!) / (throttle[i]! - throttle[i - 1]!)
    const at = time[i - 1]! + share * (time[i]! - time[i - 1]!)
    const lag = spikeAfter(time, lambda, i, at, shut <= limit)
    const last = after.at(-1)!
    if (lag !== null) openings.push({ run: run.id, at, lag, flow: run.rpm[last]! * open })
  }
  return openings
}

/**
 * s from an opening until the reading had made most of its way to a spike; null where there is none.
 *
 * @param isShut the plate was shut before, where fuel may have been cut: what reads as lean as that is no spike of air
 */
function spikeAfter(time: Float32Array, lambda: Float32Array, i: number, at: number, isShut: boolean): number | null {
  const levelOf = (some: readonly number[]): number => median(some.map((k) => lambda[k]!).filter((one) => one > 0))
  const before = span(time, i, -STILL, 0)
  const during = span(time, i, 0, PEAK_WITHIN)
  const later = span(time, i, ...SETTLED)
  if (later.length < 2 || during.length < 4) return null
  const [from, to] = [levelOf(before), levelOf(later)]
  if (!(from > 0 && from < CUT_LAMBDA && to > 0 && to < CUT_LAMBDA)) return null
  const peak = (way: 1 | -1): { size: number; k: number } =>
    during.reduce(
      (best, k) => {
        const beyond = way * (lambda[k]! - (way > 0 ? Math.max(from, to) : Math.min(from, to)))
        return beyond > best.size ? { size: beyond, k } : best
      },
      { size: 0, k: i },
    )
  const [lean, rich] = [peak(1), peak(-1)]
  const { size, k: top } = lean.size >= rich.size ? lean : rich
  if (!(size > LEAST_SPIKE * from) || (isShut && lambda[top]! > CUT_LAMBDA)) return null
  for (let k = Math.max(1, i); k <= top; k++) {
    const [last, here] = [k - 1, k].map((n) => (lambda[n]! - from) / (lambda[top]! - from)) as [number, number]
    if (here < SIXTY_THREE) continue
    const share = last < SIXTY_THREE ? (SIXTY_THREE - last) / (here - last) : 1
    return time[k - 1]! + share * (time[k]! - time[k - 1]!) - at
  }
  return null
}

/** Samples that lie so many seconds about one. */
function span(time: Float32Array, i: number, from: number, to: number): number[] {
  const list: number[] = []
  if (from < 0) {
    for (let k = i - 1; k >= 0 && time[k]! >= time[i]! + from; k--) list.push(k)
    return list.reverse()
  }
  for (let k = i; k < time.length && time[k]! <= time[i]! + to; k++) if (time[k]! >= time[i]! + from) list.push(k)
  return list
}
