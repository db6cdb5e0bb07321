/**
 * Two-sided tail of Student's t: how likely a value this far from zero, either way, is by chance.
 *
 * @param df degrees of freedom, above 0 (need not be whole)
 * @see Abramowitz and Stegun, Handbook of Mathematical Functions, 26.7.1 and 26.5.8
 * @example
 * studentTail(2.571, 5) // 0.05
 */
export function studentTail(t: number, df: number): number {
  if (!(df > 0)) throw new RangeError('Degrees of freedom must be above zero.')
  return regularisedBeta(df / (df + t * t), df / 2, 0.5)
}

/**
 * Factor of a two-sided interval: the t whose two-sided tail is 1 - confidence.
 *
 * @param confidence between 0 and 1, for example 0.9
 */
export function studentFactor(confidence: number, df: number): number {
  if (!(confidence > 0 && confidence < 1)) throw new RangeError('Confidence must lie between 0 and 1.')
  let low = 0
  let high = 2
  while (studentTail(high, df) > 1 - confidence && high < 1e9) high *= 2
  for (let round = 0; round < 80; round++) {
    const middle = (low + high) / 2
    if (studentTail(middle, df) > 1 - confidence) low = middle
    else high = middle
  }
  return (low + high) / 2
}

/** Regularised incomplete beta function, by Lentz's continued fraction. */
function regularisedBeta(x: number, a: number, b: number): number {
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

/** ln of the gamma function above 0 (Lanczos, error below 1e-13). */
function logGamma(x: number): number {
  const g = [
    0.99999999999980993, 676.5203681218851, -1259.1392167224028, 771.32342877765313, -176.61502916214059,
    12.507343278686905, -0.13857109526572012, 9.9843695780195716e-6, 1.5056327351493116e-7,
  ]
  if (x < 0.5) return Math.log(Math.PI / Math.sin(Math.PI * x)) - logGamma(1 - x)
  const t = x - 1 + 7.5
  const sum = g.reduce((total, value, k) => (k === 0 ? value : total + value / (x - 1 + k)), 0)
  return 0.5 * Math.log(2 * Math.PI) + (x - 0.5) * Math.log(t) - t + Math.log(sum)
}

/** 95 % quantile of the normal distribution. */
const Z = 1.6448536269514722

/**
 * 95 % quantile of Student's t, the factor of a two-sided 90 % interval, by the Cornish-Fisher expansion: for the solve, which asks it thousands of times.
 *
 * @param df degrees of freedom, at least 2 (error under 0.006 from 3 on)
 * @see Abramowitz and Stegun, Handbook of Mathematical Functions, 26.7.5
 */
export function studentQuantile95(df: number): number {
  if (df > 1e6) return Z
  const z2 = Z * Z
  const g1 = (Z * (z2 + 1)) / 4
  const g2 = (Z * (5 * z2 * z2 + 16 * z2 + 3)) / 96
  const g3 = (Z * (3 * z2 ** 3 + 19 * z2 * z2 + 17 * z2 - 15)) / 384
  const g4 = (Z * (79 * z2 ** 4 + 776 * z2 ** 3 + 1482 * z2 * z2 - 1920 * z2 - 945)) / 92160
  return Z + g1 / df + g2 / df ** 2 + g3 / df ** 3 + g4 / df ** 4
}
