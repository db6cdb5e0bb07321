/**
 * Smooths evenly spaced values, or takes their derivative, by a sliding least-squares polynomial. At the ends the
 * polynomial of the last whole window is read off the middle of it.
 *
 * @param values at least `window` of them
 * @param window odd number of points, at least degree + 1
 * @param degree of the polynomial, 1 to 5
 * @param derivative 0 to smooth, 1 for the slope
 * @param step distance between values; the slope is per its unit
 * @throws RangeError when window, degree or number of values do not fit
 * @see Savitzky and Golay, Analytical Chemistry 36 (1964) 1627
 */
export function savitzkyGolay(
  values: ArrayLike<number>,
  window: number,
  degree: number,
  derivative: 0 | 1 = 0,
  step = 1,
): Float64Array {
  if (!(Number.isInteger(window) && window % 2 === 1 && window > degree && degree >= 1 && degree <= 5))
    throw new RangeError('The window must be odd and longer than the degree.')
  if (values.length < window) throw new RangeError(`${values.length} values are fewer than the window of ${window}.`)
  if (!(step > 0)) throw new RangeError('The step must be above zero.')
  const half = (window - 1) / 2
  const out = new Float64Array(values.length)
  const weights = Array.from({ length: window }, (_, k) => weightsAt(k - half, half, degree, derivative))
  for (let i = 0; i < values.length; i++) {
    const from = Math.min(Math.max(0, i - half), values.length - window)
    const at = weights[i - from]!
    let sum = 0
    for (let k = 0; k < window; k++) sum += at[k]! * values[from + k]!
    out[i] = sum / step ** derivative
  }
  return out
}

/** Weights of the window's points for the fitted value (or slope) at a place in it, by Gram polynomials (Gorry 1990). */
function weightsAt(place: number, half: number, degree: number, derivative: number): Float64Array {
  const out = new Float64Array(2 * half + 1)
  for (let i = -half; i <= half; i++) {
    let sum = 0
    for (let k = 0; k <= degree; k++)
      sum +=
        (2 * k + 1) *
        (falling(2 * half, k) / falling(2 * half + k + 1, k + 1)) *
        gram(i, half, k, 0) *
        gram(place, half, k, derivative)
    out[i + half] = sum
  }
  return out
}

function gram(i: number, m: number, k: number, s: number): number {
  if (k === 0) return s === 0 ? 1 : 0
  return (
    ((4 * k - 2) / (k * (2 * m - k + 1))) * (i * gram(i, m, k - 1, s) + (s > 0 ? s * gram(i, m, k - 1, s - 1) : 0)) -
    (k > 1 ? (((k - 1) * (2 * m + k)) / (k * (2 * m - k + 1))) * gram(i, m, k - 2, s) : 0)
  )
}

/** a (a-1) ... (a-b+1) */
function falling(a: number, b: number): number {
  let product = 1
  for (let j = a - b + 1; j <= a; j++) product *= j
  return product
}
