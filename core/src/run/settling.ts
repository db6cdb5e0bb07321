import type { Filters } from './run'

/** Seconds before a throttle movement that are set aside too: the sensor's response smears them into it. */
const GUARD = 0.12
/** Half window over which throttle speed is taken, s. */
const HALF_WINDOW = 0.1

/** Below this opening, %, a movement counts by its share of the opening: from 2 to 5 % more than doubles the air. */
const FULL_RATE_FROM = 15
/** Least share of the rate that counts at small openings. */
const LEAST_SHARE = 0.3
/** Movement must stand out of the sensor's own noise by this many standard deviations. */
const ABOVE_NOISE = 6
const NOISE_SAMPLES = 1024

/** How fast the throttle moves at every sample, % per second without sign, and what its noise looks like as speed. */
export interface Movement {
  rates: Float32Array
  noise: number
}

/** The movement of a throttle in %, free of noise (`runningMean`). */
export function movementOf(time: Float32Array, opening: Float32Array): Movement {
  const rates = throttleRates(time, opening)
  return { rates, noise: noiseOf(rates) }
}

/**
 * Marks where the throttle moves or has just moved.
 *
 * @param time s; @param opening throttle in %, free of noise (`runningMean`)
 * @returns 1 where the charge was in transition, else 0
 */
export function settlingMarks(
  time: Float32Array,
  opening: Float32Array,
  filters: Filters,
  { rates, noise }: Movement = movementOf(time, opening),
): Uint8Array {
  const n = time.length
  const marks = new Uint8Array(n)
  const floor = ABOVE_NOISE * noise
  let movedAt = -Infinity
  let marked = 0 // first index not yet decided
  for (let i = 0; i < n; i++) {
    const t = time[i]!
    const share = Math.max(LEAST_SHARE, Math.min(1, opening[i]! / FULL_RATE_FROM))
    if (rates[i]! > Math.min(filters.throttleRate, Math.max(filters.throttleRate * share, floor))) {
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

/** Speed of the throttle at every sample, % per second, without sign. */
function throttleRates(time: Float32Array, opening: Float32Array): Float32Array {
  const n = time.length
  const rates = new Float32Array(n)
  let before = 0
  let after = 0
  for (let i = 0; i < n; i++) {
    const t = time[i]!
    while (before < i && time[before + 1]! <= t - HALF_WINDOW) before++
    while (after < n - 1 && time[after]! < t + HALF_WINDOW) after++
    const span = time[after]! - time[before]!
    // A short span at the ends of the log must not turn noise into speed.
    rates[i] = Math.abs(opening[after]! - opening[before]!) / Math.max(span, 2 * HALF_WINDOW)
  }
  return rates
}

/** Standard deviation of what the noise of a throttle that stands still looks like as speed: from the usual rate. */
function noiseOf(rates: Float32Array): number {
  const stride = Math.ceil(rates.length / NOISE_SAMPLES)
  const some = Float32Array.from({ length: Math.ceil(rates.length / stride) || 0 }, (_, k) => rates[k * stride]!)
    .filter((rate) => rate === rate)
    .sort()
  return some.length ? 1.4826 * some[some.length >> 1]! : 0
}
