import { logGamma } from './logGamma'
import { regularisedBeta } from './regularisedBeta'

/** Degrees of freedom beyond which Student's t is the normal distribution to 1e-6. There, differences of gamma functions lose their digits. */
const MOST_FREEDOM = 1e6

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
  const freedom = Math.min(df, MOST_FREEDOM)
  return regularisedBeta(freedom / (freedom + t * t), freedom / 2, 0.5)
}

/**
 * Factor of a two-sided interval: the t whose two-sided tail is 1 - confidence. It is found by Newton's method from zero. The
 * tail falls less and less steeply, so each step comes nearer and none goes too far.
 *
 * @param confidence between 0 and 1, for example 0.9
 * @param df degrees of freedom, above 0
 * @example
 * studentFactor(0.9, 5) // 2.015
 */
export function studentFactor(confidence: number, df: number): number {
  if (!(confidence > 0 && confidence < 1)) throw new RangeError('Confidence must lie between 0 and 1.')
  const freedom = Math.min(df, MOST_FREEDOM)
  const level = logGamma((freedom + 1) / 2) - logGamma(freedom / 2) - Math.log(freedom * Math.PI) / 2
  const steepness = (t: number): number => 2 * Math.exp(level - ((freedom + 1) / 2) * Math.log1p((t * t) / freedom))
  let t = 0
  for (let round = 0; round < 300; round++) {
    const step = (studentTail(t, freedom) - (1 - confidence)) / steepness(t)
    if (!(step > 1e-14 * t)) break
    t += step
  }
  return t
}

/** 95 % quantile of the normal distribution. */
const Z = 1.6448536269514722

/**
 * 95 % quantile of Student's t: the factor of a two-sided 90 % interval. By the Cornish-Fisher expansion, because the solve asks
 * for it thousands of times.
 *
 * @param df degrees of freedom, at least 2 (error under 0.006 from 3 on)
 * @see Abramowitz and Stegun, Handbook of Mathematical Functions, 26.7.5
 */
export function studentQuantile95(df: number): number {
  if (df > MOST_FREEDOM) return Z
  const z2 = Z * Z
  const g1 = (Z * (z2 + 1)) / 4
  const g2 = (Z * (5 * z2 * z2 + 16 * z2 + 3)) / 96
  const g3 = (Z * (3 * z2 ** 3 + 19 * z2 * z2 + 17 * z2 - 15)) / 384
  const g4 = (Z * (79 * z2 ** 4 + 776 * z2 ** 3 + 1482 * z2 * z2 - 1920 * z2 - 945)) / 92160
  return Z + g1 / df + g2 / df ** 2 + g3 / df ** 3 + g4 / df ** 4
}
