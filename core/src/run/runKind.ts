import { isOpen } from './engineState'
import { isAtStop, stopOf } from './stopOf'

/** Kinds of run; the field weighs them by evidence, not by kind. */
export const RUN_KINDS = ['sweep', 'hold', 'roll-on', 'spark step', 'mixture step', 'road', 'hand readings'] as const
export type RunKind = (typeof RUN_KINDS)[number]

/** s, and % per second, above which the throttle counts as moved. */
const MOVE_WINDOW = 0.2
const MOVE_RATE = 12
/** Movements that a run at one stop may have: opening, shutting, a hand that corrects. */
const FEW_MOVES = 6

/**
 * Guesses a run's kind from what it holds: a long wide rpm change at a steady throttle is a sweep, a narrow rpm band a
 * hold, few throttle steps with rpm rising after them a roll-on; much throttle movement, or openings of which none is the
 * stop, the road.
 *
 * @param time seconds; @param rpm rpm; @param throttle %, or undefined where there is none
 * @param spark degrees, where it was logged: a hold in which it was stepped is a spark step
 */
export function guessKind(
  time: ArrayLike<number>,
  rpm: ArrayLike<number>,
  throttle: ArrayLike<number> | undefined,
  spark?: ArrayLike<number>,
): RunKind {
  const n = rpm.length
  let low = Infinity
  let high = 0
  let moves = 0
  let moving = 0
  let windows = 0
  let wasMoving = false
  let last = 0
  for (let i = 0; i < n; i++) {
    if (rpm[i]! > 0) {
      low = Math.min(low, rpm[i]!)
      high = Math.max(high, rpm[i]!)
    }
    // Speed over a fifth of a second, so that noise of the sensor is no movement.
    if (!(time[i]! - time[last]! >= MOVE_WINDOW)) continue
    const isMoving =
      throttle !== undefined && Math.abs(throttle[i]! - throttle[last]!) / (time[i]! - time[last]!) > MOVE_RATE
    if (isMoving && !wasMoving) moves++
    if (isMoving) moving++
    windows++
    wasMoving = isMoving
    last = i
  }
  const duration = Math.max(0.1, time[n - 1]! - time[0]!)
  if (!throttle) return high > 1.6 * low ? 'sweep' : 'hold'
  const isRide = moves > FEW_MOVES && (moves / duration > 0.25 || !hasOneStop(throttle))
  if (isRide || moving > 0.4 * windows) return 'road'
  if (spark && (isHeld(rpm) ? isStepped(spark) : isSteppedAtSpeeds(time, rpm, spark))) return 'spark step'
  if (high < 1.25 * low) return moves > 1 ? 'roll-on' : 'hold'
  return 'sweep'
}

/** Share of the time with the plate open that a run spends at its stop, at the least; looked at in so many readings. */
const AT_ONE_STOP = { share: 0.5, looks: 10_000 }

function hasOneStop(throttle: ArrayLike<number>): boolean {
  const stride = Math.ceil(throttle.length / AT_ONE_STOP.looks)
  const looked = Array.from({ length: Math.ceil(throttle.length / stride) }, (_, k) => throttle[k * stride]!)
  const stop = stopOf(looked)
  const open = looked.filter((value) => isOpen(value))
  return stop === null || open.filter((value) => isAtStop(value, stop)).length >= AT_ONE_STOP.share * open.length
}

/** Degrees by which a setting differs from the next, and readings a setting has at the least, share. */
const STEP = 1
const LEAST_SHARE = 0.08

/** Whether three settings or more were each held for a while. */
function isStepped(spark: ArrayLike<number>): boolean {
  const counts = new Map<number, number>()
  for (let i = 0; i < spark.length; i++)
    if (spark[i] === spark[i])
      counts.set(Math.round(spark[i]! / STEP), (counts.get(Math.round(spark[i]! / STEP)) ?? 0) + 1)
  const held = [...counts].filter(([, count]) => count > LEAST_SHARE * spark.length).map(([setting]) => setting)
  // Two neighbours may be one setting on the edge of rounding.
  return held.length >= 3 && Math.max(...held) - Math.min(...held) >= 3
}

/** Share of the readings that lie near their middle, and how near, share; looked at in so many of them. */
const HELD = { share: 0.8, near: 0.04, looks: 2000 }

/** Whether speed was held for most of a run; the end, where the throttle shuts, may fall. */
function isHeld(rpm: ArrayLike<number>): boolean {
  const stride = Math.max(1, Math.floor(rpm.length / HELD.looks))
  const looked = Array.from({ length: Math.floor((rpm.length - 1) / stride) + 1 }, (_, k) => rpm[k * stride]!)
  const middle = [...looked].sort((a, b) => a - b)[Math.floor(looked.length / 2)]!
  return looked.filter((value) => Math.abs(value - middle) <= HELD.near * middle).length >= HELD.share * looked.length
}

/** Speeds that are one, share; how long one is held, s; share of a run that is held, and of one speed, at the least. */
const SPEEDS = { near: 0.025, over: 0.6, held: 0.6, one: 0.1, step: 250 }

/** Whether the advance was stepped at one of several speeds that were each held for a while, one after the other. */
function isSteppedAtSpeeds(time: ArrayLike<number>, rpm: ArrayLike<number>, spark: ArrayLike<number>): boolean {
  const bySpeed = new Map<number, number[]>()
  let held = 0
  for (let i = 0, back = 0; i < rpm.length; i++) {
    while (time[i]! - time[back]! > SPEEDS.over) back++
    if (!(Math.abs(rpm[i]! - rpm[back]!) <= SPEEDS.near * rpm[i]!)) continue
    held++
    const speed = Math.round(rpm[i]! / SPEEDS.step)
    const own = bySpeed.get(speed) ?? []
    own.push(spark[i]!)
    bySpeed.set(speed, own)
  }
  if (held < SPEEDS.held * rpm.length) return false
  return [...bySpeed.values()].some((own) => own.length >= SPEEDS.one * rpm.length && isStepped(own))
}
