import { logGamma } from './logGamma'

/**
 * Regularised incomplete beta function I_x(a, b), by Lentz's continued fraction.
 *
 * @param x 0 to 1
 * @param a, b above 0
 * @see Abramowitz and Stegun, Handbook of Mathematical Functions, 26.5.8
 */
export function regularisedBeta(x: number, a: number, b: number): number {
  if (x <= 0) return 0
  if (x >= 1) return 1
  // The fraction converges fast only below this.
  if (x > (a + 1) / (a + b + 2)) return 1 - regularisedBeta(1 - x, b, a)
  const front = Math.exp(logGamma(a + b) - logGamma(a) - logGamma(b) + a * Math.log(x) + b * Math.log1p(-x)) / a
  const TINY = 1e-300
  let c = 1
  let d = 1 / nonZero(1 - ((a + b) * x) / (a + 1), TINY)
  let fraction = d
  for (let m = 1; m <= 300; m++) {
    const even = (m * (b - m) * x) / ((a + 2 * m - 1) * (a + 2 * m))
    d = 1 / nonZero(1 + even * d, TINY)
    c = nonZero(1 + even / c, TINY)
    fraction *= d * c
    const odd = (-(a + m) * (a + b + m) * x) / ((a + 2 * m) * (a + 2 * m + 1))
    d = 1 / nonZero(1 + odd * d, TINY)
    c = nonZero(1 + odd / c, TINY)
    fraction *= d * c
    if (Math.abs(d * c - 1) < 1e-14) break
  }
  return front * fraction
}

const nonZero = (value: number, tiny: number): number => (Math.abs(value) < tiny ? tiny : value)
