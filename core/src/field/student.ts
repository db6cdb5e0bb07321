const Z = 1.6448536269514722

/**
 * 95 % quantile of Student's t, the factor of a two-sided 90 % interval, by the Cornish-Fisher expansion.
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
