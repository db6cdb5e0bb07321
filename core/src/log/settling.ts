import type { Filters } from './run'

/** Seconds before a throttle movement that are set aside too: the sensor's response smears them into it. */
const GUARD = 0.12
/** Half window over which throttle speed is taken, s. */
const HALF_WINDOW = 0.1

/**
 * Marks where the throttle moves or has just moved.
 *
 * @param time s; @param opening throttle in %, free of noise (`runningMean`)
 * @returns 1 where the charge was in transition, else 0
 */
export function settlingMarks(time: Float32Array, opening: Float32Array, filters: Filters): Uint8Array {
  const n = time.length
  const marks = new Uint8Array(n)
  let movedAt = -Infinity
  let before = 0
  let after = 0
  let marked = 0 // first index not yet decided
  for (let i = 0; i < n; i++) {
    const t = time[i]!
    while (before < i && time[before + 1]! <= t - HALF_WINDOW) before++
    while (after < n - 1 && time[after]! < t + HALF_WINDOW) after++
    const span = time[after]! - time[before]!
    // A short span at the ends of the log must not turn noise into speed.
    const rate = Math.abs(opening[after]! - opening[before]!) / Math.max(span, 2 * HALF_WINDOW)
    if (rate > filters.throttleRate) {
      // Back over the guard; `marked` keeps the whole pass linear.
      let k = i
      while (k > marked && time[k - 1]! >= t - GUARD - HALF_WINDOW) k--
      marks.fill(1, k, i + 1)
      marked = i
      movedAt = t
    } else if (t - movedAt <= HALF_WINDOW + filters.settle) marks[i] = 1
  }
  return marks
}
