/** Standard normal deviations below which the ratio goes by its expansion: the integral's own error would be too large a part of it. */
const FAR = -3.5

/**
 * Integral of the standard normal density up to z, to 1e-7.
 *
 * @see Abramowitz and Stegun, Handbook of Mathematical Functions, 7.1.26
 * @example
 * normalIntegral(0) // 0.5
 */
export function normalIntegral(z: number): number {
  const x = Math.abs(z) / Math.SQRT2
  const t = 1 / (1 + 0.3275911 * x)
  const series = t * (0.254829592 + t * (-0.284496736 + t * (1.421413741 + t * (-1.453152027 + t * 1.061405429))))
  const tail = 0.5 * series * Math.exp(-x * x)
  return z > 0 ? 1 - tail : tail
}

/**
 * Standard normal density over its integral up to z: how hard a probit pulls. To half a percent.
 *
 * @see Abramowitz and Stegun, 26.2.12, for the far tail
 */
export function densityOverIntegral(z: number): number {
  return z < FAR ? -z / (1 - 1 / (z * z + 3)) : Math.exp(-0.5 * z * z) / Math.sqrt(2 * Math.PI) / normalIntegral(z)
}
