/** Kinds of run; the field weighs them by evidence, not by kind. */
export const RUN_KINDS = ['sweep', 'hold', 'roll-on', 'spark step', 'road', 'hand readings'] as const
export type RunKind = (typeof RUN_KINDS)[number]

/**
 * Guesses a run's kind from what it holds: a long wide rpm change at a steady throttle is a sweep, a narrow rpm band a
 * hold, few throttle steps with rpm rising after them a roll-on, much throttle movement the road.
 *
 * @param time seconds; @param rpm rpm; @param throttle %, or undefined where there is none
 */
export function guessKind(time: ArrayLike<number>, rpm: ArrayLike<number>, throttle: ArrayLike<number> | undefined): RunKind {
  const n = rpm.length
  let low = Infinity
  let high = 0
  let moves = 0
  let moving = 0
  let wasMoving = false
  let last = NaN
  let lastTime = NaN
  const stride = Math.max(1, Math.floor(n / 5000))
  for (let i = 0; i < n; i += stride) {
    const speed = rpm[i]!
    if (speed > 0) {
      low = Math.min(low, speed)
      high = Math.max(high, speed)
    }
    const opening = throttle?.[i] ?? NaN
    const dt = time[i]! - lastTime
    const isMoving = Math.abs(opening - last) / dt > 20
    if (isMoving) moving += dt
    if (isMoving && !wasMoving) moves++
    wasMoving = isMoving
    last = opening
    lastTime = time[i]!
  }
  const duration = Math.max(0.1, time[n - 1]! - time[0]!)
  if (!throttle) return high > 1.6 * low ? 'sweep' : 'hold'
  if (moves / duration > 0.25 && moves > 6) return 'road'
  if (high < 1.25 * low) return moves > 1 ? 'roll-on' : 'hold'
  return 'sweep'
}
