const BINS = 8192

/** Factor from the median absolute deviation to the standard deviation of a normal distribution. */
export const MAD_TO_SIGMA = 1.4826

/**
 * Median of the absolute values, from a histogram, in time linear in their number and without copying them.
 *
 * @param values numbers; those that are NaN are passed over
 * @param most values above count as being at it (the median itself must lie below half of it to be exact to most / 8192)
 * @returns median of |values|, or 0 for none
 */
export function medianAbsolute(values: Float32Array, most = 0.5): number {
  const first = histogramMedian(values, most)
  // A tight distribution gets a second look at a finer scale, so precision follows the noise.
  return first > 0 && first < most / 64 ? histogramMedian(values, first * 8) : first
}

function histogramMedian(values: Float32Array, most: number): number {
  const bins = new Uint32Array(BINS + 1)
  const scale = BINS / most
  let count = 0
  for (let i = 0; i < values.length; i++) {
    const size = Math.abs(values[i]!) * scale
    if (size >= 0) {
      bins[size < BINS ? size | 0 : BINS]!++
      count++
    }
  }
  const half = count / 2
  let below = 0
  for (let b = 0; b <= BINS; b++) {
    if (below + bins[b]! >= half && bins[b]! > 0) return (b + (half - below) / bins[b]!) / scale
    below += bins[b]!
  }
  return 0
}
