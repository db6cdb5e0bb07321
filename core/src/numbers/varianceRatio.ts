import { regularisedBeta } from './regularisedBeta'

/**
 * How likely two variances of one size lie this far apart by chance, either way (F test).
 *
 * @param a, b variances above 0, with their degrees of freedom above 0
 * @see Abramowitz and Stegun, Handbook of Mathematical Functions, 26.6.2
 * @example
 * varianceRatio(4, 5, 1, 5) // 0.154
 */
export function varianceRatio(a: number, dfA: number, b: number, dfB: number): number {
  const upper = regularisedBeta((dfB * b) / (dfB * b + dfA * a), dfB / 2, dfA / 2)
  return Math.min(1, 2 * Math.min(upper, 1 - upper))
}
