/** Kinds of run; the field weighs them by evidence, not by kind. */
export const RUN_KINDS = ['sweep', 'hold', 'roll-on', 'spark step', 'mixture step', 'road', 'hand readings'] as const
export type RunKind = (typeof RUN_KINDS)[number]

/** s, and % per second, above which the throttle counts as moved. */
const MOVE_WINDOW = 0.2
const MOVE_RATE = 12

/**
 * Guesses a run's kind from what it holds: a long wide rpm change at a steady throttle is a sweep, a narrow rpm band a
 * hold, few throttle steps with rpm rising after them a roll-on, much throttle movement the road.
 *
 * @param time seconds; @param rpm rpm; @param throttle %, or undefined where there is none
 */
export function guessKind(
  time: ArrayLike<number>,
  rpm: ArrayLike<number>,
  throttle: ArrayLike<number> | undefined,
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
  if ((moves / duration > 0.25 && moves > 6) || moving > 0.4 * windows) return 'road'
  if (high < 1.25 * low) return moves > 1 ? 'roll-on' : 'hold'
  return 'sweep'
}
